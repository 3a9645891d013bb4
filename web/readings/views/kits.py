"""Colour kits: choosing, being led through the steps by a timer, holding the tube against the colours."""

import re
from datetime import timedelta
from math import ceil

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.instruments.kits import Kit, KitTest, error_read_early, kit_from_document, shipped_kits
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.ground.selectors import plots_to_choose
from web.query_params import key_of
from web.readings.forms import default_plot
from web.readings.models import KitRun, LabReport, LabResult, OwnKit
from web.readings.past import reading_of
from web.readings.shared_files import SharedFileForm, as_file, keep_own


def kits_of(holding) -> dict[str, Kit]:
    """Kits that ship, and the holding's own by "own:<key>"."""
    own = {f"own:{kit.key}": kit_from_document(kit.document, tables()) for kit in OwnKit.objects.filter(holding=holding)}
    return shipped_kits(tables()) | own


def is_of_water(test: KitTest) -> bool:
    """Whether a test is made on a water, not on the soil of a plot."""
    return tables().analytes[test.analyte].medium == LabReport.Medium.WATER


def _number(text: str) -> int:
    return key_of(text) or 0


def kits(request):
    plots = plots_to_choose(request.place.holding)
    known = kits_of(request.place.holding)
    if request.method == "POST":
        kit, _, test = request.POST.get("test", "").rpartition("/")
        if kit in known and any(item.key == test for item in known[kit].tests):
            run = KitRun(holding=request.place.holding, kit=kit, test=test)
            if is_of_water(known[kit].test(test)) and not request.place.holding.waters.exists():
                return redirect("ground:waters")
            if is_of_water(known[kit].test(test)):
                run.water = get_object_or_404(request.place.holding.waters, pk=_number(request.POST.get("water", "")))
            else:
                run.plot = get_object_or_404(plots, pk=_number(request.POST.get("plot", "")))
            run.save()
            return redirect("readings:kit_run", run.pk)
    under_way = KitRun.objects.filter(holding=request.place.holding, slip=None).select_related("plot", "water")[:5]
    context = {
        "kits": [(key, kit, key.startswith("own:")) for key, kit in known.items()],
        "plots": plots,
        "waters": request.place.holding.waters.all(),
        "plot": default_plot(plots, request.GET.get("plot")),
        "under_way": [(run, known[run.kit].name) for run in under_way if run.kit in known],
    }
    return render(request, "readings/kits.html", context)


def _run(request, pk: int) -> tuple[KitRun, Kit, KitTest]:
    run = get_object_or_404(KitRun.objects.select_related("plot", "water"), pk=pk, holding=request.place.holding)
    kit = kits_of(request.place.holding)[run.kit]
    return run, kit, kit.test(run.test)


def kit_run(request, pk: int):
    """One step at a time; the last one with the colours."""
    run, kit, test = _run(request, pk)
    error = ""
    if request.method == "POST":
        error = _act(request, run, kit, test)
        if not error:
            return redirect("slip_page", run.slip_id) if run.slip_id else redirect("readings:kit_run", pk)
    step = test.steps[min(run.step, len(test.steps) - 1)]
    deadline = run.step_began_at + timedelta(seconds=step.seconds) if run.step_began_at and step.seconds else None
    pairs = [(place, place + 1) for place in range(len(test.colours) - 1)] if test.between else []
    context = {
        "run": run,
        "kit": kit,
        "test": test,
        "step": step,
        "number": run.step + 1,
        "count": len(test.steps),
        "is_last": run.step >= len(test.steps) - 1,
        "deadline": deadline,
        "left": max(0, int((deadline - timezone.now()).total_seconds())) if deadline else step.seconds,
        "colours": list(enumerate(test.colours)),
        "between": dict(pairs),
        "error": error,
        "is_early": "next" in request.POST and bool(error),
    }
    return render(request, "readings/kit_run.html", context, status=422 if error else 200)


def _act(request, run: KitRun, kit: Kit, test: KitTest) -> str:
    """Starts the time, goes a step on or back, or takes the colour; returns what is wrong."""
    if "begin" in request.POST:
        run.step_began_at = timezone.now()
    elif "next" in request.POST:
        left = _left(run, test)
        if left and "anyway" not in request.POST:
            return f"{left} s of this step are still to come. Read early, a colour shows less than there is."
        run.early_seconds += left
        run.step, run.step_began_at = min(run.step + 1, len(test.steps) - 1), None
    elif "back" in request.POST:
        run.step, run.step_began_at = max(run.step - 1, 0), None
    elif "colour" in request.POST:
        try:
            places = [int(part) for part in request.POST["colour"].split("-")]
            typed, said = test.answer(*places[:2])
        except (ValueError, RuleError) as error:
            return error_text(error) if isinstance(error, RuleError) else "Choose one of the colours."
        medium = LabReport.Medium.WATER if run.water else LabReport.Medium.SOIL
        with undoable(request, f"{test.name} of {run.about} by {kit.name}: {said}") as touched:
            run.slip = LabReport.objects.create(
                holding=run.holding,
                plot=run.plot,
                water=run.water,
                medium=medium,
                lab=kit.name,
                how=kit.how,
                taken_on=timezone.localdate(),
                note=said,
            )
            line = LabResult(
                slip=run.slip, place=0, analyte=test.analyte, typed=typed, unit=test.unit, method=test.method, rating=said[:40]
            )
            _widen(run, line, test)
            line.save()
            touched += [run.slip, line]
    run.save()
    return ""


def _left(run: KitRun, test: KitTest) -> int:
    """Seconds of the present step that are still to come; all of them where its time was not begun."""
    seconds = test.steps[min(run.step, len(test.steps) - 1)].seconds
    waited = (timezone.now() - run.step_began_at).total_seconds() if run.step_began_at else 0.0
    return max(0, ceil(seconds - waited)) if seconds else 0


def _widen(run: KitRun, line: LabResult, test: KitTest) -> None:
    """A reading before its time keeps a wider error, and says why."""
    reading = reading_of(line) if run.early_seconds else None
    if reading is not None:
        line.own_error = error_read_early(reading.u, early_seconds=run.early_seconds, total_seconds=test.seconds)
        run.slip.note = f"{run.slip.note}; read {run.early_seconds} s before its time, so its error is wider"
        run.slip.save()


@require_POST
def drop_run(request, pk: int):
    run, _, _ = _run(request, pk)
    run.delete()
    return redirect("readings:kits")


class OwnKitForm(forms.Form):
    """A test of a kit that the user has, in plain lines. The same kit's name adds a test to it."""

    name = forms.CharField(label="Name of the kit", max_length=80)
    test = forms.CharField(label="Name of the test", max_length=60)
    analyte = forms.ChoiceField(label="What it measures")
    unit = forms.CharField(label="Unit", max_length=24, required=False, help_text="Leave empty for pH, or for the usual one.")
    steps = forms.CharField(
        label="Steps, one a line",
        widget=forms.Textarea(attrs={"rows": 6}),
        help_text="End a line with the time to wait or shake, such as: Let it stand until clear. [wait 300] or [shake 60], in seconds.",
    )
    colours = forms.CharField(
        label="Colours, one a line",
        widget=forms.Textarea(attrs={"rows": 6}),
        help_text="Colour as six digits, value or range, words: #d9742d 4.5 or #c3d8ea 8-18 short",
    )

    def __init__(self, *args, holding, **kwargs):
        super().__init__(*args, **kwargs)
        self.holding = holding
        self.fields["analyte"].choices = [(key, row.name) for key, row in tables().analytes.items() if row.medium in ("soil", "water")]

    def clean(self) -> dict:
        data = super().clean()
        if self.errors:
            return data
        try:
            self.document = self._document(data)
            kit_from_document(self.document, tables())
        except RuleError as error:
            field = (
                "colours" if "colour" in error.field else "steps" if "steps" in error.field else "unit" if "unit" in error.field else "name"
            )
            self.add_error(field, error_text(error))
        return data

    def _document(self, data: dict) -> dict:
        key = re.sub(r"[^a-z0-9]+", "_", data["name"].lower()).strip("_")[:40]
        key = key if key[:1].isalpha() else f"kit_{key}"[:40]
        kept = OwnKit.objects.filter(holding=self.holding, key=key).first()
        earlier = kept.document["test"] if kept else []
        test_key = re.sub(r"[^a-z0-9]+", "_", data["test"].lower()).strip("_")[:40] or "test"
        test = {
            "key": test_key if test_key[:1].isalpha() else f"t_{test_key}"[:40],
            "name": data["test"],
            "analyte": data["analyte"],
            "unit": data["unit"],
            "steps": [self._step(line) for line in data["steps"].splitlines() if line.strip()],
            "colours": [self._colour(line, number) for number, line in enumerate(data["colours"].splitlines(), 1) if line.strip()],
        }
        self.key = key
        return {"key": key, "name": data["name"], "test": [item for item in earlier if item["key"] != test["key"]] + [test]}

    @staticmethod
    def _step(line: str) -> dict:
        times = dict(re.findall(r"\[(wait|shake) (\d+)\]", line))
        text = re.sub(r"(?<!\s)\s*+\[(?:wait|shake) \d+\]", "", line).strip()
        return {"do": text, "wait_seconds": int(times.get("wait", 0)), "shake_seconds": int(times.get("shake", 0))}

    @staticmethod
    def _colour(line: str, number: int) -> dict:
        parts = line.split(None, 2)
        low, _, high = (parts[1] if len(parts) > 1 else "").replace("–", "-").partition("-")
        if len(parts) < 2:
            raise RuleError("colours", line[:40], f"line {number} has no value", "write colour, value and words, such as #d9742d 4.5")
        return {"fill": parts[0], "low": low, "high": high or low, "say": parts[2] if len(parts) > 2 else parts[1]}


def own_kit(request):
    """Describes a test of a kit, or takes in a kit that somebody shared."""
    is_file = request.method == "POST" and "share" in request.POST
    form = OwnKitForm(None if is_file else request.POST or None, holding=request.place.holding)
    shared = SharedFileForm(request.POST if is_file else None, request.FILES if is_file else None)
    if is_file and shared.is_valid():
        try:
            made = kit_from_document(shared.cleaned_data["file"], tables())
        except RuleError as error:
            shared.add_error("file", error_text(error))
        else:
            return _keep(request, made.key, shared.cleaned_data["file"], made.name)
    if request.method == "POST" and not is_file and form.is_valid():
        return _keep(request, form.key, form.document, form.cleaned_data["name"])
    wrong = form.errors or shared.errors
    return render(request, "readings/own_kit.html", {"form": form, "shared": shared}, status=422 if wrong else 200)


def _keep(request, key: str, document: dict, name: str):
    keep_own(request, OwnKit, key, document, name)
    return redirect("readings:kits")


def kit_file(request, key: str):
    kit = get_object_or_404(OwnKit, holding=request.place.holding, key=key)
    return as_file(kit.document, kit.key)


@require_POST
def delete_kit(request, key: str):
    kit = get_object_or_404(OwnKit, holding=request.place.holding, key=key)
    KitRun.objects.filter(holding=request.place.holding, kit=f"own:{key}", slip=None).delete()
    with undoable_deletion(request, f"{kit} was deleted; its readings stay", kit):
        kit.delete()
    return redirect("readings:kits")
