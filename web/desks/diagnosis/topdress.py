"""Feed now?: a leaf card, a meter, sap or the eye, beside what the season still needs; a dose onto the list, or nothing."""

from datetime import timedelta
from typing import Any

from django import forms
from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError, RuleError
from agronomy.base.numbers import parse_number
from agronomy.base.required import required
from agronomy.intake.request import read_request
from agronomy.ledger.intent import Intended
from agronomy.ledger.standing import NitrogenAccount, nitrogen_account
from agronomy.model.answers import Need, Unmet
from agronomy.plan.plan import make_plan
from agronomy.tables.crop import Crop
from agronomy.watch.in_source import NamedSource
from agronomy.watch.source import source_for
from agronomy.watch.topdress import OTHER_CAUSES, OVER_MG_NO3, PLACES, Seen, Topdress, sap_stages, topdress
from web.changes.undo import undoable
from web.core import error_text, tables
from web.ground.fields import NumberField
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.jobs.intent import intended, put_on_list
from web.jobs.models import Job
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import can_plan, crop_of, lines_by_plot, reader_for
from web.records.selectors import log_of

WITH = {"card": "a leaf colour card", "meter": "a greenness meter", "sap": "sap", "dry stalk": "dried stalks", "eye": "the eye alone"}
IN_A_WEEK = timedelta(days=7)


class TopdressForm(forms.Form):
    """What was read, and what else shows."""

    place = forms.ChoiceField(label="The crop stands", choices=[(key, words) for key, words in PLACES.items()], initial="in time")
    leaves = forms.CharField(
        label="Panels of the leaves", max_length=800, help_text="Ten leaves or more, as 3 3.5 4. Half panels are allowed.", required=False
    )
    meter = NumberField(low=0, high=100, label="The crop reads, mean of 30 leaves", required=False)
    strip = NumberField(low=0, high=100, label="A strip with plenty of nitrogen reads", required=False)
    value = NumberField(low=0, high=100_000, label="Nitrate", required=False)
    as_nitrate = forms.BooleanField(label="The meter shows nitrate (NO₃), not nitrate-nitrogen", required=False)
    rule = forms.ChoiceField(label="Which rule", required=False)
    looks_pale = forms.ChoiceField(label="It looks", choices=[("pale", "pale"), ("dark", "green or dark")], required=False)
    dry = forms.BooleanField(label="No rain or watering is in sight for three days", required=False)
    looks = forms.MultipleChoiceField(
        label="Does any of this show?", choices=list(OTHER_CAUSES.items()), required=False, widget=forms.CheckboxSelectMultiple
    )
    ASKED = {
        "card": ("rule", "leaves", "looks_pale"),
        "meter": ("rule", "meter", "strip"),
        "sap": ("rule", "value", "as_nitrate"),
        "dry stalk": ("rule", "value"),
        "eye": ("looks_pale",),
    }

    def __init__(self, *args, crop: Crop, instrument: str, **kwargs):
        super().__init__(*args, **kwargs)
        kept = {"place", "looks", "dry", *self.ASKED[instrument]}
        for name in set(self.fields) - kept:
            del self.fields[name]
        rules = _rules(crop, instrument)
        if rules and "rule" in self.fields:
            self.fields["rule"].choices = rules
            self.fields["rule"].label = "Stage" if instrument in ("sap", "dry stalk") else "The rule for"
            self.fields.pop("looks_pale", None)
        else:
            self.fields.pop("rule", None)
        if instrument == "dry stalk":
            self.fields["value"].label = "Nitrate-nitrogen, mg/kg dry"
        if instrument == "sap":
            self.fields["value"].label = "Nitrate-nitrogen, mg/L"

    def clean_leaves(self) -> tuple[float, ...]:
        words = self.cleaned_data["leaves"].replace(";", " ").split()
        try:
            return tuple(parse_number(word, "leaves") for word in words)
        except RuleError as error:
            raise forms.ValidationError(error_text(error)) from error


def _rules(crop: Crop, instrument: str) -> list[tuple[str, str]]:
    known = tables()
    if instrument == "card":
        return [(key, f"{row.card}: {row.how_grown}") for key, row in known.topdress.colour.items() if row.crop == crop.key]
    if instrument == "meter":
        return [(row.window, row.window) for row in known.nutrients.greenness if row.crop == crop.key]
    return [(row.stage, row.stage) for row in sap_stages(crop.key, instrument, known)]


def topdress_desk(request, pk: int):
    """The desk; the reading stands in the address, and putting the dose on the list is sent."""
    plot = plot_or_404(request, pk)
    crop = crop_of(plot)
    instrument = request.GET.get("with", "eye")
    instrument = instrument if instrument in WITH else "eye"
    context: dict[str, Any] = {"plot": plot, "crop": crop, "with": instrument, "ways": WITH}
    if crop is None or not can_plan(plot):
        return render(request, "desks/topdress.html", context)
    asked, account, jobs = _account(request, plot)
    first = {"leaves": request.GET.get("leaves", "").replace(";", " ")}
    form = TopdressForm(request.GET if "place" in request.GET else None, initial=first, crop=crop, instrument=instrument)
    context |= {"form": form, "window": tables().topdress.windows.get(crop.key), "no_plan": asked is None}
    if form.is_bound and form.is_valid():
        try:
            told = topdress(_seen(form.cleaned_data, crop, instrument, plot, account), tables())
        except RuleError as error:
            form.add_error(error.field if error.field in form.fields else None, error_text(error))
        else:
            dry = form.cleaned_data["dry"]
            source = source_for(told, account.remaining_kg_per_ha, asked, tables(), dry=dry) if asked and told.act == "dress" else None
            due = jobs[account.due] if account.due is not None else None
            if request.method == "POST":
                return _do(request, plot, told, source, due) or redirect("jobs:jobs")
            context |= _told(told, source, due, reader_for(request.place, plot))
    return render(request, "desks/topdress.html", context, status=422 if form.errors else 200)


def _account(request, plot: Plot):
    """The request of the plot's plan, its account of nitrogen, and the open jobs that the account counts."""
    today = timezone.localdate()
    jobs = list(Job.objects.filter(plot=plot, state=Job.State.OPEN).order_by("from_day", "pk"))
    done = [
        Intended(entry.material, entry.kg, entry.done_on, entry.done_on, "the log")
        for entry in log_of(plot.holding).filter(plot=plot, done_on__gte=today - timedelta(days=365))
    ]
    try:
        document = request_document(plot, plot.planting, lines_by_plot([plot])[plot.pk], today=today, units=request.place.units)
        asked = read_request(document, tables())
        needs = {need.what: need.high_kg_per_ha for need in make_plan(asked, tables()).needs if isinstance(need, Need)}
        need = needs.get("N", 0.0)
    except RequestError:
        asked, need = None, None
    return asked, nitrogen_account(need, [intended(job) for job in jobs], done, today, plot.area_m2, tables()), jobs


def _seen(data: dict, crop: Crop, instrument: Any, plot: Plot, account: NitrogenAccount) -> Seen:
    value = data.get("value")
    if value is not None and data.get("as_nitrate"):
        value = value / OVER_MG_NO3
    harvest = required(plot.planting).ended_on
    return Seen(
        crop=crop,
        instrument=instrument,
        place=data["place"],
        leaves=data.get("leaves") or (),
        meter=data.get("meter"),
        strip=data.get("strip"),
        value=value,
        rule=data.get("rule", ""),
        looks_pale=data.get("looks_pale", "pale") != "dark",
        looks=frozenset(data["looks"]),
        days_to_harvest=(harvest - timezone.localdate()).days if harvest else None,
        remaining_kg_per_ha=account.remaining_kg_per_ha,
        last_days=account.last_days,
        due_days=account.due_days,
        due_kg_per_ha=account.due_kg_per_ha,
        still_releasing=account.still_releasing,
    )


def _told(told: Topdress, source, due: Job | None, reader) -> dict:
    context: dict[str, Any] = {"told": told, "due": due, "steps": words.steps(told.working, reader.units, tables())}
    if told.n_kg_per_ha:
        context["nitrogen"] = reader.nutrient(told.n_kg_per_ha)
        context["between"] = reader.nutrient(told.low) if told.high > told.low else ""
        context["and"] = reader.nutrient(told.high)
    if isinstance(source, NamedSource) and source.kg_per_ha > 0:
        context |= {
            "source": source,
            "rate": reader.rate(source.kg_per_ha),
            "weight": showing.mass(source.kg_on(reader.area_m2), reader.units, 2),
        }
    elif isinstance(source, Unmet):
        context["no_source"] = source.why
    return context


def _do(request, plot: Plot, told: Topdress, source, due: Job | None):
    """Puts the dressing on the list, or brings the planned one forward."""
    today = timezone.localdate()
    if told.act == "bring forward" and due is not None:
        with undoable(request, f"{due.name} on {plot.name} is brought forward", due):
            due.from_day, due.to_day = today, max(today + IN_A_WEEK, today)
            due.save()
        return None
    if not isinstance(source, NamedSource) or source.kg_per_ha <= 0:
        messages.error(request, "There is nothing to put on the list.")
        return None
    job = Job(
        holding_id=plot.holding_id,
        plot=plot,
        material=source.material.key,
        name=source.material.name,
        what="N",
        origin=Job.Origin.DESK,
        origin_name="a reading of leaves",
        kg=source.kg_on(plot.area_m2),
        placement="scattered between the plants, off the leaves, and watered in",
        why=f"{told.read} {told.reason}"[:400],
        from_day=today,
        to_day=today + IN_A_WEEK,
    )
    return put_on_list(request, plot, [job], f"{job.name} for {plot.name} was added to jobs", about="this dressing")
