"""Programmes: ready sequences, copied and adapted, dated for a plot and put on the jobs list."""

from django import forms
from django.contrib import messages
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.base.said import measured
from agronomy.ledger.scaling import FittedStep, fitted
from agronomy.schedule.programme import A_WEEK, PER, WAYS, DatedStep, Programme, dated, document_of, programme_of, programmes
from web.changes.undo import undoable, undoable_deletion
from web.core import error_text, tables
from web.ground.fields import NumberField, date_field
from web.ground.models import Plot
from web.ground.selectors import plots_to_choose
from web.jobs.intent import intended, meant_for, put_on_list
from web.jobs.making import job_of_step
from web.jobs.models import OwnProgramme
from web.jobs.unavailable_days import closed_of, hands_of
from web.jobs.weather import climate_for
from web.planning.overlap import needs_of
from web.planning.service import crop_of
from web.query_params import key_of
from web.sentences import tell

MOST_STEPS = 60
STEP_FIELDS = ("after", "do", "material", "grams", "way", "gate", "within", "stretches")


class StartForm(forms.Form):
    """For which plot, from which day, for how many."""

    plot = forms.ModelChoiceField(queryset=None, label="Plot", empty_label="choose a plot")
    start = date_field("Start")
    size = forms.ChoiceField(
        label="How much",
        choices=[("need", "each step its share of what the plot needs"), ("fixed", "as the programme says")],
        initial="need",
        required=False,
    )
    count = NumberField(
        low=0.01, high=1e7, label="How many", required=False, help_text="Trees, pots or bales; for square metres the plot's area is taken."
    )

    def __init__(self, *args, holding, programme: Programme, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["plot"].queryset = plots_to_choose(holding)
        self.fields["start"].label = f"Day of {programme.anchor}"
        if programme.per == "m2":
            del self.fields["count"]
        else:
            self.fields["count"].label = f"How many {PER[programme.per]}s"
        for key in dict.fromkeys(step.material for step in programme.steps if step.material):
            name = tables().materials[key].name
            choices = [
                ("", name),
                *sorted(
                    ((other, item.name) for other, item in tables().materials.items() if other != key and item.chosen_for_you),
                    key=lambda pair: pair[1],
                ),
            ]
            self.fields[f"instead_{key}"] = forms.ChoiceField(label=f"For {name} use", choices=choices, required=False)

    def instead(self) -> dict[str, str]:
        return {name.removeprefix("instead_"): value for name, value in self.cleaned_data.items() if name.startswith("instead_") and value}


def _programme(request, key: str) -> tuple[Programme, OwnProgramme | None]:
    """A ready one by its key, or one of the holding's own as "own-5". Raises Http404."""
    if key.startswith("own-"):
        own = get_object_or_404(OwnProgramme, pk=key_of(key.removeprefix("own-")), holding=request.place.holding)
        return programme_of(own.document, tables()), own
    found = programmes(tables()).get(key)
    if found is None:
        raise Http404
    return found, None


def all_programmes(request):
    own = [(f"own-{item.pk}", item.name, item.document.get("says", "")) for item in request.place.holding.programmes.all()]
    ready = [(key, item.name, item.says) for key, item in programmes(tables()).items()]
    return render(request, "jobs/programmes.html", {"own": own, "ready": ready})


def programme(request, key: str):
    """A programme with its steps; dated once a plot and a start are chosen (GET), and put on the list (POST)."""
    found, own = _programme(request, key)
    holding, today = request.place.holding, timezone.localdate()
    query = request.POST if request.method == "POST" else request.GET
    form = StartForm(query if "start" in query else None, holding=holding, programme=found, initial={"start": today})
    context = {
        "key": key,
        "programme": found,
        "own": own,
        "form": form,
        "per": PER[found.per],
        "steps": _listed(found, request.place.units),
    }
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        count = data["plot"].area_m2 if found.per == "m2" else data.get("count") or 1.0
        crop = crop_of(data["plot"])
        try:
            rows = dated(
                found,
                data["start"],
                count,
                tables(),
                climate=climate_for(holding),
                instead=form.instead(),
                grass=bool(crop and crop.is_grass),
                hands=hands_of(holding),
                closed=closed_of(holding),
            )
        except RuleError as error:
            return render(request, "jobs/programme.html", context | {"error": error_text(error)})
        steps = _fitted(rows, data["plot"]) if data["size"] != "fixed" else [FittedStep(row) for row in rows]
        if request.method == "POST":
            jobs = [job_of_step(item.step, data["plot"], found) for item in steps if not item.left_out]
            if not jobs:
                messages.info(request, f"{data['plot'].name} needs nothing of this programme now. Nothing was added to jobs.")
                return redirect("jobs:programmes")
            label = f"{found.name} was added to jobs for {data['plot'].name}"
            return put_on_list(request, data["plot"], jobs, label, about=f"the programme “{found.name}”") or redirect("jobs:jobs")
        context["dated"] = [_told(item, request.place.units) for item in steps]
        context["nothing"] = all(item.left_out for item in steps)
        context["query"] = [(name, value) for name, value in query.items()]
    return render(request, "jobs/programme.html", context)


def _fitted(rows: list[DatedStep], plot: Plot) -> list[FittedStep]:
    """The steps by what the plot needs; as they are where nothing is known of it, and on bales, whose plan is their start."""
    needs = needs_of(plot) if plot.kind != Plot.Kind.BALE else None
    if needs is None:
        return [FittedStep(row) for row in rows]
    meant = [intended(job) for job in meant_for(plot, [row.day for row in rows])]
    return fitted(rows, needs, meant, plot.area_m2, tables())


def _told(item: FittedStep, units: str) -> dict:
    row = item.step
    amount = f"{showing.mass(row.kg, units, 2)} {tables().materials[row.material].name}" if row.material and not item.left_out else ""
    return {"day": row.day, "do": row.do, "amount": amount, "note": row.note, "says": item.says}


def _listed(programme: Programme, units: str) -> list[dict]:
    return [
        {
            "after": step.after,
            "do": step.do,
            "amount": f"{tell(measured(step.grams, 'g'), units)} {tables().materials[step.material].name}" if step.material else "",
        }
        for step in programme.steps
    ]


@require_POST
def copy_programme(request, key: str):
    """A copy of one's own, to adapt."""
    found, _ = _programme(request, key)
    holding = request.place.holding
    name, number = f"{found.name}, ours"[:70], 2
    while holding.programmes.filter(name=name).exists():
        name, number = f"{found.name}, ours {number}"[:76], number + 1
    with undoable(request, f"{name} was copied") as touched:
        made = OwnProgramme.objects.create(holding=holding, name=name, document=document_of(found, name))
        touched.append(made)
    return redirect("jobs:edit_programme", made.pk)


def edit_programme(request, pk: int):
    """The steps of one's own programme as rows: days after the start, what to do, material, grams."""
    own = get_object_or_404(OwnProgramme, pk=pk, holding=request.place.holding)
    document, error = own.document, ""
    if request.method == "POST":
        document, error = _typed(request.POST, own.document)
        if not error:
            try:
                programme_of(document, tables())
            except RuleError as fault:
                error = error_text(fault)
        if not error:
            with undoable(request, f"{own.name} was changed", own):
                own.name, own.document = document["name"], document
                own.save()
            return redirect("jobs:programme", f"own-{own.pk}")
    rows = [
        *(step | {"grams": f"{step['grams']:g}"} if isinstance(step.get("grams"), float) else step for step in document["step"]),
        {},
        {},
    ]
    materials = [("", "nothing"), *sorted(((key, item.name) for key, item in tables().materials.items()), key=lambda pair: pair[1])]
    return render(
        request,
        "jobs/edit_programme.html",
        {
            "own": own,
            "document": document,
            "rows": rows,
            "materials": materials,
            "error": error,
            "per": PER[document["per"]],
            "ways": WAYS.items(),
            "gates": _gates(),
        },
        status=422 if error else 200,
    )


def _gates() -> list[tuple[str, str]]:
    return [("", "nothing"), *((key, f"{row.of} above {row.above_c:g} °C") for key, row in tables().climate.step_gates.items())]


def _typed(data, before: dict) -> tuple[dict, str]:
    """The document as typed, and what is wrong with it; rows without words are left out."""
    steps, error = [], ""
    typed = {name: data.getlist(name) for name in STEP_FIELDS}
    for place in range(1, len(typed["do"]) + 1):
        row = {name: values[place - 1] if place <= len(values) else "" for name, values in typed.items()}
        if not row["do"].strip():
            continue
        step: dict = {"after": row["after"].strip(), "do": row["do"].strip()[:200]}
        try:
            step |= {"after": int(row["after"]), "within": int(row["within"] or A_WEEK)}
            step |= {"material": row["material"], "grams": float(row["grams"].replace(",", ".") or 0)} if row["material"] else {}
        except ValueError:
            error = f"Row {place}: days and grams must be numbers."
        steps.append(step | {name: row[name] for name in ("gate", "way", "stretches") if row[name]})
    return before | {"name": data.get("name", "").strip()[:80] or before["name"], "step": steps[:MOST_STEPS]}, error


@require_POST
def drop_programme(request, pk: int):
    own = get_object_or_404(OwnProgramme, pk=pk, holding=request.place.holding)
    with undoable_deletion(request, f"{own.name} was deleted", own):
        own.delete()
    return redirect("jobs:programmes")
