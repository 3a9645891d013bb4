"""Working days: closed seasons as the owner looked them up, working days of the week, and days when nobody is there."""

import json
from datetime import date

from django import forms
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.intake.limit_docs import ClosedDoc, HandsDoc, read_closed, read_hands
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.labour import WEEKDAYS, LabourCalendar, labour_calendar_of
from web.changes.undo import undoable
from web.core import error_text, tables
from web.ground.fields import date_field


class ClosedForm(forms.Form):
    """A span of the year and what must not be spread in it."""

    name = forms.CharField(label="What it is called", max_length=80)
    begins = date_field("From", help_text="Any year: day and month count.")
    ends = date_field("To")
    materials = forms.MultipleChoiceField(label="Materials", widget=forms.CheckboxSelectMultiple)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["materials"].choices = _by_kind()

    def document(self) -> dict:
        data = self.cleaned_data
        return {"name": data["name"], "materials": data["materials"], "begins": f"{data['begins']:%m-%d}", "ends": f"{data['ends']:%m-%d}"}


def _by_kind() -> list[tuple[str, list]]:
    """Materials with nitrogen or manure in them, in the kinds that rules speak of."""
    kinds: dict[str, list] = {"Raw manures and slurry": [], "Other organic materials": [], "Fertilizers with nitrogen": []}
    for key, item in sorted(tables().materials.items(), key=lambda pair: pair[1].name):
        if item.raw_manure:
            kinds["Raw manures and slurry"].append((key, item.name))
        elif item.has_role("organic"):
            kinds["Other organic materials"].append((key, item.name))
        elif item.n > 0:
            kinds["Fertilizers with nitrogen"].append((key, item.name))
    return list(kinds.items())


class AwayForm(forms.Form):
    """Days on which nobody is there to work."""

    first = date_field("First day away")
    last = date_field("Last day away")

    def clean(self) -> dict:
        data = super().clean()
        if data.get("first") and data.get("last"):
            try:
                labour_calendar_of([], [(data["first"], data["last"])])
            except RuleError as error:
                self.add_error("last", error_text(error))
        return data

    def document(self) -> dict:
        return {"begins": self.cleaned_data["first"].isoformat(), "ends": self.cleaned_data["last"].isoformat()}


class WeekdaysForm(forms.Form):
    """The days of the week on which work is done."""

    weekdays = forms.MultipleChoiceField(
        label="", choices=[(name, name.capitalize()) for name in WEEKDAYS], widget=forms.CheckboxSelectMultiple, required=False
    )

    def clean_weekdays(self) -> list[str]:
        """All seven mean the same as none named."""
        chosen = self.cleaned_data["weekdays"]
        return [] if len(chosen) == len(WEEKDAYS) else chosen


def days(request):
    """All that keeps days from being free, and a form for each kind; `kind` says which was sent."""
    holding, kind = request.place.holding, request.POST.get("kind", "")
    hands = holding.hands or {}
    closed = ClosedForm(request.POST if kind == "closed" else None)
    away = AwayForm(request.POST if kind == "away" else None)
    week = WeekdaysForm(request.POST if kind == "weekdays" else None, initial={"weekdays": hands.get("weekdays") or list(WEEKDAYS)})
    if kind == "closed" and closed.is_valid():
        return _keep(request, f"{closed.cleaned_data['name']} was added as a closed season", closed=[*holding.closed, closed.document()])
    if kind == "away" and away.is_valid():
        return _keep(request, "Days off were added", hands=hands | {"away": [*hands.get("away", []), away.document()]})
    if kind == "weekdays" and week.is_valid():
        return _keep(request, "Working days of the week were changed", hands=hands | {"weekdays": week.cleaned_data["weekdays"]})
    context = {
        "closed": closed,
        "away": away,
        "week": week,
        "seasons": [_season(row) for row in holding.closed],
        "spans": [_span(row) for row in hands.get("away", [])],
    }
    return render(request, "jobs/days.html", context, status=422 if closed.errors or away.errors or week.errors else 200)


def _keep(request, label: str, **fields):
    holding = request.place.holding
    with undoable(request, label, holding):
        for name, value in fields.items():
            setattr(holding, name, value)
        holding.save()
    return redirect("jobs:days")


def _season(row: dict) -> dict:
    season, known = read_closed(ClosedDoc(**row), "closed"), tables().materials
    begins, ends = (date(2028, *day) for day in (season.begins, season.ends))
    return {
        "name": season.name,
        "begins": begins,
        "ends": ends,
        "materials": ", ".join(known[key].name for key in row["materials"] if key in known),
        "row": json.dumps(row),
    }


def _span(row: dict) -> dict:
    begins, ends = date.fromisoformat(row["begins"]), date.fromisoformat(row["ends"])
    return {"begins": begins, "ends": ends, "over": ends < timezone.localdate(), "row": json.dumps(row)}


@require_POST
def drop_days(request):
    """Takes out the closed season or the span away that is named by its whole row, so that two people never take out each other's."""
    holding = request.place.holding
    try:
        row = json.loads(request.POST.get("row", ""))
    except (ValueError, RecursionError):
        row = None
    away = (holding.hands or {}).get("away", [])
    if row in holding.closed:
        return _keep(request, f"{row['name']} was deleted", closed=[kept for kept in holding.closed if kept != row])
    if row in away:
        return _keep(request, "Days off were removed", hands=holding.hands | {"away": [kept for kept in away if kept != row]})
    return redirect("jobs:days")


def hands_of(holding) -> LabourCalendar:
    return read_hands(HandsDoc(**holding.hands))


def closed_of(holding) -> tuple[ClosedSeason, ...]:
    return tuple(read_closed(ClosedDoc(**row), "closed") for row in holding.closed)
