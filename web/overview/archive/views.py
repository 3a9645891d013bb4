"""The page where an owner takes a holding out whole, or puts one back."""

import tempfile

from django import forms
from django.contrib import messages
from django.http import FileResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.text import slugify

from web.ground.models import Plot
from web.overview.archive import work
from web.overview.archive.contents import PARTS
from web.overview.archive.putting_back import ArchiveRefused, PutBack, put_back, weighed
from web.overview.archive.taking_out import take_out

LARGE = 1_500_000  # bytes unpacked, put back in two seconds; more is left to the worker
SPOKEN = {"plots": "plots", "reports": "reports", "jobs": "jobs", "log": "entries of the log"}


class ArchiveForm(forms.Form):
    """An archive to put back."""

    archive = forms.FileField(label="The archive", widget=forms.ClearableFileInput(attrs={"accept": ".zip"}))
    part = forms.ChoiceField(
        label="What of it",
        choices=[("", "Everything, into an empty holding"), *PARTS.items()],
        required=False,
        help_text="A part goes beside what is here. Plots are found by their names; what is here already is left as it is.",
    )


def archive(request):
    """What can be taken out, and the form to put an archive back."""
    holding = request.place.holding
    if (now := _state(request, holding.pk)) is not None:
        if not now.is_over:
            return render(request, "overview/archive_under_way.html", {"now": now})
        work.forget(holding.pk)
        if now.told is not None:
            messages.success(request, _told(now.told))
            return redirect("ground_page")
        messages.warning(request, f"Not restored. {now.says}")
    form = ArchiveForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        sent, part = form.cleaned_data["archive"].file, form.cleaned_data["part"]
        weight, rows = weighed(sent)
        if weight > LARGE:
            work.begin(holding, sent, part, rows)
            return redirect("archive")
        try:
            made = put_back(holding, sent, part=part)
        except ArchiveRefused as error:
            form.add_error("archive", str(error))
        else:
            messages.success(request, _told(made))
            return redirect("ground_page")
    context = {"form": form, "holding": holding, "has_plots": Plot.everything.filter(holding=holding).exists()}
    return render(request, "overview/archive.html", context, status=422 if form.errors else 200)


def _state(request, holding: int) -> work.Putting | None:
    """How far a large archive is, or what came of it, after what was pressed; where no worker came, it is put back here."""
    if request.method == "POST" and "stop" in request.POST:
        work.stop(holding)
    now = work.under_way(holding)
    if now is not None and now.is_forgotten and not now.is_over:
        work.put_back_later.func(holding)
        now = work.under_way(holding)
    return now


def _told(made: PutBack) -> str:
    told = ", ".join(f"{made.rows[name]} {words}" for name, words in SPOKEN.items() if made.rows.get(name))
    known = f" {made.known} were here already." if made.known else ""
    return f"Restored: {told or f'{sum(made.rows.values())} rows'}.{known}"


def archive_file(request):
    """The archive itself."""
    made = tempfile.TemporaryFile()  # noqa: SIM115 -- the response closes it once it is sent
    take_out(request.place.holding, made)
    made.seek(0)
    name = f"{slugify(request.place.holding.name) or 'holding'}-{timezone.localdate():%Y-%m-%d}.zip"
    return FileResponse(made, as_attachment=True, filename=name, content_type="application/zip")
