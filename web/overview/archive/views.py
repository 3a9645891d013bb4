"""The page where an owner takes a holding out whole, or puts one back."""

import tempfile

from django import forms
from django.contrib import messages
from django.http import FileResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.text import slugify

from web.ground.models import Plot
from web.overview.archive.contents import PARTS
from web.overview.archive.putting_back import ArchiveRefused, put_back
from web.overview.archive.taking_out import take_out

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
    form = ArchiveForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        try:
            made = put_back(holding, form.cleaned_data["archive"].file, part=form.cleaned_data["part"])
        except ArchiveRefused as error:
            form.add_error("archive", str(error))
        else:
            told = ", ".join(f"{made.rows[name]} {words}" for name, words in SPOKEN.items() if made.rows.get(name))
            known = f" {made.known} were here already." if made.known else ""
            messages.success(request, f"Put back: {told or f'{sum(made.rows.values())} rows'}.{known}")
            return redirect("ground_page")
    context = {"form": form, "holding": holding, "has_plots": Plot.everything.filter(holding=holding).exists()}
    return render(request, "overview/archive.html", context, status=422 if form.errors else 200)


def archive_file(request):
    """The archive itself."""
    made = tempfile.TemporaryFile()  # noqa: SIM115 -- the response closes it once it is sent
    take_out(request.place.holding, made)
    made.seek(0)
    name = f"{slugify(request.place.holding.name) or 'holding'}-{timezone.localdate():%Y-%m-%d}.zip"
    return FileResponse(made, as_attachment=True, filename=name, content_type="application/zip")
