"""Something looks wrong: a few questions, what it could be here, and the test or look that settles it."""

from dataclasses import dataclass
from datetime import timedelta
from urllib.parse import urlencode

from django import forms
from django.http import QueryDict
from django.shortcuts import render
from django.urls import reverse
from django.utils import timezone

from agronomy.diagnose.asking import Verdict, verdict
from agronomy.diagnose.causes import Case, case_of
from agronomy.diagnose.claims import claim_for_sign
from agronomy.diagnose.confirmed import Confirmed, own_cases
from agronomy.diagnose.evidence import evidence_of
from agronomy.diagnose.ground import Known, known_of
from agronomy.plan.assess import assess
from web.bags.claims import not_waved_off
from web.core import tables
from web.drawing.signs import BAR, likely_bar, sign
from web.ground.fields import date_field
from web.ground.models import Plot
from web.ground.selectors import plots_of, plots_to_choose
from web.planning.service import crop_of, request_of
from web.query_params import key_of
from web.records.photos import small_jpeg

MOST_ANSWERS = 40
LOOK_AGAIN = timedelta(days=7)


class WhereForm(forms.Form):
    """On which plot: its crop and readings are then known."""

    plot = forms.ModelChoiceField(queryset=None, label="Where", empty_label="choose a plot", required=False)

    def __init__(self, *args, holding, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["plot"].queryset = plots_to_choose(holding)


class SightingForm(forms.Form):
    """What is kept of a look, beside the answers of the key."""

    note = forms.CharField(label="In your words", max_length=400, required=False)
    look_on = date_field("Look again on", required=False)
    photo = forms.FileField(
        label="A photo", required=False, widget=forms.ClearableFileInput(attrs={"accept": "image/*", "capture": "environment"})
    )

    def clean_photo(self) -> bytes | None:
        return small_jpeg(self.cleaned_data["photo"]) if self.cleaned_data.get("photo") else None


@dataclass(frozen=True)
class Said:
    """What was answered in the key, and of which plot; all of it stands in the key's address."""

    plot: Plot | None
    yes: tuple[str, ...] = ()
    no: tuple[str, ...] = ()
    skipped: tuple[str, ...] = ()

    def address(self, *, less: str = "", yes: str = "", no: str = "", skip: str = "") -> str:
        """The key with these answers, one taken back or one more."""
        parts = [("plot", str(self.plot.pk))] if self.plot else []
        for key, names in (("yes", (*self.yes, yes)), ("no", (*self.no, no)), ("skip", (*self.skipped, skip))):
            parts += [(key, name) for name in names if name and name != less]
        return f"{reverse('desks:ailing')}?{urlencode(parts)}"


def ailing(request):
    """The key; every answer stands in the address, so that going back takes it away."""
    plot = plots_of(request.place.holding).filter(pk=key_of(request.GET.get("plot", ""))).first()
    features = tables().watch.features
    said = answered(request.GET, plot)
    case, told, known = case_on(said)
    context = {
        "form": WhereForm(initial={"plot": plot}, holding=request.place.holding),
        "plot": plot,
        "said": said,
        "keep": SightingForm(initial={"look_on": timezone.localdate() + LOOK_AGAIN}),
        "crop": case.crop,
        "told": told,
        "candidates": [(item, likely_bar(item.share)) for item in told.candidates],
        "bar": BAR,
        "parted": [tables().watch.causes[key].name for key in (told.parts.cause_a, told.parts.cause_b)] if told.parts else [],
        "saying": _saying(told, request.place),
        "known": [(item, said.address(no=item.feature)) for item in known],
        "answers": [(features[name], True, said.address(less=name)) for name in case.yes]
        + [(features[name], False, said.address(less=name)) for name in case.no],
        "ask": _choices(told, said),
        "further": _further(case, told, said),
    }
    return render(request, "desks/ailing.html", context)


def answered(asked: QueryDict, plot: Plot | None) -> Said:
    """What was seen, what was not and what nobody knew, by the keys of the table of features."""
    features = tables().watch.features
    told = (tuple(name for name in asked.getlist(key)[:MOST_ANSWERS] if name in features) for key in ("yes", "no", "skip"))
    return Said(plot, *told)


def case_on(said: Said) -> tuple[Case, Verdict, tuple[Known, ...]]:
    """The case as it stands on a plot with its crop and readings, what the key says of it, and what the plot itself answers."""
    plot = said.plot
    readings, known = _told_by(plot) if plot else ((), ())
    case = case_of(
        crop_of(plot) if plot else None,
        said.yes,
        said.no,
        readings,
        tables(),
        known=[item.feature for item in known],
        skipped=said.skipped,
        own=own_cases(confirmed_on(plot.holding), tables()) if plot else None,
    )
    return case, verdict(case, tables()), tuple(item for item in known if item.feature in case.known)


def confirmed_on(holding) -> list[Confirmed]:
    """What tests or treated strips have confirmed on a holding."""
    rows = holding.sightings.exclude(confirmed="").values_list("confirmed", "seen", "not_seen")
    return [Confirmed(cause, tuple(yes), tuple(no)) for cause, yes, no in rows]


def _told_by(plot: Plot) -> tuple[tuple[tuple[str, str], ...], tuple[Known, ...]]:
    """What the plot's readings say, and what its ground, log and water answer; nothing where it can't be judged."""
    asked = request_of(plot, "metric")
    if asked is None:
        return (), ()
    judged = assess(asked, tables())
    evidence = evidence_of(judged.findings(), tables(), crop=asked.crop, readings=judged.readings)
    return evidence, known_of(asked, judged.soil, judged.readings, tables())


def _saying(told: Verdict, place):
    """The one saying to remember beside the likeliest cause, unless it was waved off."""
    return not_waved_off(claim_for_sign(told.candidates[0].cause, tables()), place) if told.candidates else None


def _choices(told: Verdict, said: Said) -> dict | None:
    """The next question with its answers as links."""
    if not told.ask:
        return None
    first = told.ask[0]
    unknown = said.address(skip=first.key)
    if len(told.ask) > 1:
        rows = [(row.answer, _ended(row.look), said.address(yes=row.key), sign(row.key)) for row in told.ask]
        return {"question": first.question, "answers": rows, "unknown": unknown}
    return {
        "question": f"{first.question.rstrip('?')}: {first.answer}?",
        "look": _ended(first.look),
        "answers": [("yes", "", said.address(yes=first.key), sign(first.key)), ("no", "", said.address(no=first.key), ())],
        "unknown": unknown,
    }


def _ended(look: str | None) -> str:
    """What to look at, as a sentence that ends."""
    return "" if not look else look if look[-1] in ".?!" else f"{look}."


def _further(case: Case, told: Verdict, said: Said) -> list[tuple[str, list]]:
    """Everything else that can be said, by question, for whoever knows more than is asked."""
    groups: dict[str, list] = {}
    asked = {*case.asked, *(row.key for row in told.ask)} - set(case.skipped)
    for row in tables().watch.features.values():
        if row.key not in asked:
            groups.setdefault(row.question, []).append((row.answer, said.address(yes=row.key), sign(row.key)))
    return list(groups.items())
