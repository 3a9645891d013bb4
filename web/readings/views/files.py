"""Laboratories' files: uploading, what was understood, what is asked, reading in with its progress, taking out as one act."""

import hashlib
from datetime import date

from django import forms
from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.base.required import required
from agronomy.labfile.decode import BIGGEST_BYTES
from agronomy.labfile.matching import Match
from web.changes.models import Change
from web.changes.undo import undoable
from web.core import error_text
from web.ground.models import Plot
from web.people.holding_lock import hold
from web.readings.bulk_plots import PlotsOfNames
from web.readings.importing import groups_to_read, match_samples, parsed, read_step, take_out
from web.readings.looking import digest, digest_of, is_big, is_forgotten
from web.readings.models import LabFile, LabHabit, LabReport
from web.readings.selectors import labs_of
from web.readings.work import look_over, read_in
from web.sampling.models import Sample

SHOWN_NAMES = 60
MANY_PLOTS, SHOWN_NAMES_OF_MANY = 150, 8


class FileForm(forms.Form):
    """A file, the laboratory it is from, and what was tested."""

    file = forms.FileField(
        label="The laboratory's file",
        required=False,
        help_text="CSV, text, mail (.eml), PDF with text, XLSX or JSON, as it came. It is kept untouched.",
    )
    pasted = forms.CharField(
        label="Or paste the results",
        required=False,
        max_length=200_000,
        widget=forms.Textarea(attrs={"rows": 5}),
        help_text="A mail, a table or a list such as “pH: 6.2”, one result a line.",
    )
    lab = forms.CharField(
        label="Laboratory",
        max_length=120,
        required=False,
        widget=forms.TextInput(attrs={"list": "labs", "autocomplete": "off"}),
        help_text="Its answers are remembered for the next file.",
    )
    medium = forms.ChoiceField(label="What was tested", choices=LabReport.Medium.choices, initial="soil")

    def clean(self):
        data = super().clean()
        if not self.errors and not data.get("file") and not (data.get("pasted") or "").strip():
            self.add_error("file", "Choose a file, or paste the results below.")
        return data

    def content(self) -> tuple[str, bytes]:
        """Name and bytes of what was sent: the file goes before the paste."""
        if file := self.cleaned_data.get("file"):
            return file.name[:200], file.read()
        return f"pasted on {timezone.localdate():%-d %B %Y}.txt", self.cleaned_data["pasted"].encode()

    def clean_file(self):
        file = self.cleaned_data["file"]
        if file and file.size > BIGGEST_BYTES:
            raise forms.ValidationError(
                f"The file has {file.size / 1e6:.0f} MB, more than {BIGGEST_BYTES // 1_000_000} MB. Send the results only, or part it."
            )
        return file


def files(request):
    """The files of the holding, and the door for a new one."""
    form = FileForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        made = _open(request, form)
        if made:
            return redirect("readings:file", made.pk)
    found = LabFile.objects.filter(holding=request.place.holding).defer("content", "answers", "overrides", "matching", "remarks")[:100]
    context = {"form": form, "files": found, "labs": labs_of(request.place.holding)}
    return render(request, "readings/files.html", context, status=422 if form.errors else 200)


def _open(request, form: FileForm) -> LabFile | None:
    """The file kept, once it can be read at all; else the reason goes beside the field and nothing is stored."""
    data = form.cleaned_data
    (name, content), lab = form.content(), data["lab"].strip()
    habit = LabHabit.objects.filter(holding=request.place.holding, lab__iexact=lab).first() if lab else None
    sha256 = hashlib.sha256(content).hexdigest()
    before = LabFile.objects.filter(holding=request.place.holding, sha256=sha256).defer("content").first()  # the same file, sent again
    file = LabFile(
        holding=request.place.holding,
        uploaded_by=request.user,
        name=name,
        content=content,
        sha256=sha256,
        lab=lab,
        medium=data["medium"],
        answers=(dict(habit.answers) if habit else {}) | (before.answers if before and before.medium == data["medium"] else {}),
        sampled_on=timezone.localdate(),
    )
    try:
        if is_big(name, content):
            return _left_to_the_worker(file)
        made = digest(parsed(file))
    except RuleError as error:
        form.add_error("file" if data.get("file") else "pasted", error_text(error))
        return None
    file.matching = {name: match.target for name, match in match_samples(file, made.samples).items()}
    with transaction.atomic():
        hold(file.holding_id)
        file.save()
    return file


def _left_to_the_worker(file: LabFile, *, then_read: bool = False) -> LabFile:
    """A large file waits to be looked at; its page says when it is done."""
    file.state, file.worked_at = LabFile.State.LOOKING, timezone.now()
    with transaction.atomic():
        hold(file.holding_id)
        file.save()
    look_over.enqueue(file.pk, then_read=then_read)
    return file


def _file(request, pk: int) -> LabFile:
    return get_object_or_404(LabFile.objects.defer("content"), holding=request.place.holding, pk=pk)  # ten megabytes, seldom needed


def file(request, pk: int):
    """What was understood, and what is asked; each answer shows the file again as it is understood then."""
    of = _file(request, pk)
    if request.method == "POST" and of.state == LabFile.State.REFUSED and "begin-again" in request.POST:
        of.answers, of.overrides = {}, {}
        _left_to_the_worker(of)
        return redirect(request.path)
    if request.method == "POST" and of.state in (LabFile.State.OPEN, LabFile.State.UNDONE):
        errors = _answer(request, of)
        if not errors and "read-in" in request.POST and of.state != LabFile.State.LOOKING:
            return _begin(request, of)
        if not errors:
            return redirect(f"{request.path}#{request.POST.get('back', '')}" if request.POST.get("back") else request.path)
        if of.state != LabFile.State.LOOKING:
            return render(request, "readings/file.html", _context(of) | {"errors": errors}, status=422)
    if of.state in (LabFile.State.OPEN, LabFile.State.UNDONE) and digest_of(of) is None:
        _left_to_the_worker(of)
    if of.state in (LabFile.State.READING, LabFile.State.LOOKING):
        return render(request, "readings/file_reading.html", {"file": of, "waits": of.by_worker})
    if of.state == LabFile.State.REFUSED:
        return render(request, "readings/file_refused.html", {"file": of, "why": of.remarks[0][1] if of.remarks else ""})
    if of.state == LabFile.State.IN:
        slips = of.slips.select_related("plot", "water")[:60]
        return render(request, "readings/file_in.html", {"file": of, "slips": slips, "count": of.slips.count()})
    return render(request, "readings/file.html", _context(of))


def _why(target: str, guess: Match | None) -> str:
    """Why a sample is taken for a plot, where nobody chose it by hand."""
    if guess is None or guess.target != target:
        return "chosen by hand" if target else ""
    return guess.why if guess.sure else f"{guess.why}: look at it"


def _context(of: LabFile) -> dict:
    made = required(digest_of(of))
    names = made.samples
    unknown = [name for name in names if not of.matching.get(name)]
    holding = of.holding
    to_read = groups_to_read(of, made.keys)
    plots = list(Plot.objects.filter(holding=holding).only("pk", "name"))
    shown = SHOWN_NAMES if len(plots) <= MANY_PLOTS else SHOWN_NAMES_OF_MANY  # each name brings a list of all plots
    twin = (
        LabFile.objects.filter(holding=holding, sha256=of.sha256, state=LabFile.State.IN)
        .exclude(pk=of.pk)
        .only("pk", "name", "uploaded_at")
        .first()
    )
    shown_names = (unknown + [name for name in names if of.matching.get(name)])[:shown]
    guessed = match_samples(of, shown_names)
    return {
        "file": of,
        "twin": twin,
        "said": made.said,
        "sheet": made.sheet,
        "questions": [(question, of.answers.get(question.key)) for question in made.questions],
        "notes": [(note, of.answers.get(note.key) == "no") for note in made.notes],
        "plot_form": PlotsOfNames(holding=holding, units=of.holding.units),
        "sheets": made.sheets,
        "count": made.count,
        "preview": made.preview,
        "doubtful": made.doubtful,
        "doubts": made.doubts,
        "columns": made.columns,
        "remarks": made.remarks,
        "remark_count": made.remark_count,
        "names": [(name, of.matching.get(name, ""), _why(of.matching.get(name, ""), guessed.get(name))) for name in shown_names],
        "name_count": len(names),
        "unknown_count": len(unknown),
        "plots": plots,
        "waters": holding.waters.all(),
        "samples": Sample.objects.filter(round__holding=holding, arrived_on=None).select_related("plot")[:200],
        "needs_date": any(taken is None for _, taken, *_ in to_read) or not to_read,
        "slip_count": len(to_read),
    }


def _answer(request, of: LabFile) -> list[str]:
    """Takes in answers, corrections and matches from the page; returns what is wrong with them."""
    data, errors = request.POST, []
    before = (dict(of.answers), dict(of.overrides))
    for name in data:
        if name.startswith("answer-"):
            of.answers[name.removeprefix("answer-")] = data[name]
        if name.startswith("match-"):
            of.matching[name.removeprefix("match-")] = data[name]
    if "lab" in data:
        of.lab = data["lab"].strip()[:120]
    _correct(data, of)
    if rest := data.get("match_rest"):
        for name in _samples(of):
            if not of.matching.get(name):
                of.matching[name] = rest
    if "sampled_on" in data:
        try:
            of.sampled_on = date.fromisoformat(data["sampled_on"])
        except ValueError:
            errors.append("The day of sampling is no date. Type it as 2026-10-03.")
        else:
            if of.sampled_on > timezone.localdate():
                errors.append("The day of sampling lies ahead. Type the day the samples were taken.")
    try:
        made = digest_of(of)
    except RuleError as error:
        of.answers, of.overrides = before
        return [*errors, error_text(error)]
    if made is None:
        _left_to_the_worker(of, then_read="read-in" in data and not errors)
        return errors
    matched = {name: match.target for name, match in match_samples(of, made.samples).items()}
    of.matching = matched | {name: target for name, target in of.matching.items() if target}
    of.save()
    return errors


def _samples(of: LabFile) -> list[str]:
    """The names of its samples; none where it waits to be looked at, or its answers make no sense."""
    try:
        made = digest_of(of)
    except RuleError:
        return []
    return made.samples if made else []


def _correct(data, of: LabFile) -> None:
    """One row's correction: buttons are named after the row's place."""
    for name in data:
        act, _, place = name.partition(":")
        if act == "fix-unit":
            of.overrides[place] = of.overrides.get(place, {}) | {"unit": data[name]}
        elif act == "fix-value":
            of.overrides[place] = of.overrides.get(place, {}) | {"typed": data[name]}
        elif act == "right":
            of.overrides[place] = of.overrides.get(place, {}) | {"settled": True}
        elif act == "skip":
            of.overrides[place] = {"skip": True}
        elif act == "again":
            of.overrides.pop(place, None)
        elif act == "typed":
            row = {"typed": data[name].strip()[:60]}
            if unit := data.get(f"unit:{place}"):
                row["unit"] = unit
            if data.get(f"was:{place}") != row["typed"] or data.get(f"was-unit:{place}", "") != row.get("unit", ""):
                of.overrides[place] = of.overrides.get(place, {}) | row
        elif act == "column":
            of.answers[f"unit:{place}"] = data[name]


def _begin(request, of: LabFile):
    keys = groups_to_read(of, required(digest_of(of)).keys)
    if not keys:
        context = _context(of) | {"errors": ["No sample of this file is matched to a plot yet. Choose at least one."]}
        return render(request, "readings/file.html", context, status=422)
    of.state, of.done, of.total = LabFile.State.READING, 0, len(keys)
    if of.by_worker:
        of.worked_at = timezone.now()
        read_in.enqueue(of.pk)
    of.save()
    return redirect("readings:file", of.pk)


@require_POST
def make_plots(request, pk: int):
    """Plots of the names that match nothing yet, all of one kind, size and crop; each can be changed afterwards.

    It is a button of the page's one form: what was answered beside it is kept first.
    """
    of = _file(request, pk)
    answer_errors = _answer(request, of)
    made = digest_of(of)
    if made is None:
        return redirect("readings:file", pk)
    if answer_errors:
        return render(request, "readings/file.html", _context(of) | {"errors": answer_errors}, status=422)
    names = [name for name in made.samples if name and not of.matching.get(name)]
    form = PlotsOfNames(request.POST, holding=of.holding, units=of.holding.units)
    if not form.is_valid() or not names:
        errors = [f"{form.fields[name].label}: {error}" for name, listed in form.errors.items() for error in listed]
        errors = errors or ["Every sample is matched already."]
        return render(request, "readings/file.html", _context(of) | {"errors": errors, "plot_form": form}, status=422)
    with undoable(request, f"{len(names)} plots were made of the names in {of.name}"[:200]) as touched:
        for name in names:
            plot, planting = form.plot(name[:120])
            touched += [plot, planting]
            of.matching[name] = plot.as_target
    of.save()
    return redirect(f"{reverse('readings:file', args=[pk])}#samples")


@require_POST
def file_step(request, pk: int):
    """How far it is, asked by the page until all is in. Small files are read in here, part by part; large ones where no worker comes."""
    of = _file(request, pk)
    if of.state == LabFile.State.LOOKING and is_forgotten(of):
        look_over.func(of.pk)
    if of.state == LabFile.State.READING and (not of.by_worker or is_forgotten(of)):
        read_step(of)
    of.refresh_from_db(fields=["state", "done", "total"])
    if of.state == LabFile.State.IN:
        address = reverse("readings:take_out_file", args=[of.pk])
        change = Change.objects.filter(holding=of.holding, undo_address=address, undone_at=None).first()
        if change is not None:
            messages.success(request, change.label, extra_tags=f"undo-{change.pk}")
    if request.htmx and of.state in (LabFile.State.READING, LabFile.State.LOOKING):
        return render(request, "readings/_file_progress.html", {"file": of, "waits": of.by_worker})
    if request.htmx:
        response = HttpResponse()
        response["HX-Redirect"] = reverse("readings:file", args=[of.pk])
        return response
    return redirect("readings:file", pk)


@require_POST
def take_out_file(request, pk: int):
    of = _file(request, pk)
    count = take_out(of)
    Change.objects.filter(holding=of.holding, undo_address=request.path, undone_at=None).update(undone_at=timezone.now())
    messages.success(request, f"Undone: {count} report{'s' if count != 1 else ''} of {of.name} undone. The file is still here.")
    return redirect("readings:file", pk)


@require_POST
def delete_file(request, pk: int):
    """Forgets a file that brought nothing, or whose readings are to stay without it."""
    of = _file(request, pk)
    name = of.name
    of.delete()
    messages.success(request, f"{name} was deleted; readings that came of it stay.")
    return redirect("readings:files")


def original(request, pk: int):
    """The file as it came."""
    of = _file(request, pk)
    safe = of.name.replace('"', "").replace("\n", "").replace("\r", "")
    headers = {"Content-Disposition": f'attachment; filename="{safe}"', "X-Content-Type-Options": "nosniff"}
    return HttpResponse(bytes(of.content), content_type="application/octet-stream", headers=headers)
