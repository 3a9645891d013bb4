"""What each plot asks for: one summary a plot, found by the key of all that it was made of, and made anew where that is another."""

import hashlib
from typing import Any, NamedTuple

import orjson
from django.core.cache import caches
from django.utils import timezone
from django_tasks import task

from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.plan.plan import make_plan, rules_version
from agronomy.schedule.retest_days import is_too_old
from agronomy.watch.salt_trend import salt_says
from web.core import tables
from web.date_format import habit, keep_habit
from web.drawing.rake import SmallRake, SmallTooth, small_rake
from web.ground.models import NutrientCredit, OwnCrop, Planting, Plot
from web.people.models import Holding
from web.planning import words
from web.planning.models import PlotSummary
from web.planning.requests import request_document
from web.planning.service import can_plan, crop_of, lines_by_plot, reader_for
from web.prepared import Prepared, hang_on
from web.readings.past import reading_of
from web.records.models import LogEntry
from web.sentences import tell
from web.supplies.stock import Stock, stock_of

AT_ONCE = 60  # a page looks through so many plots; of a larger holding a worker does
A_TURN = 240  # plots that the worker looks through before something else may have its turn
WALKED_AGAIN_S = 60  # a large holding is walked through no oftener
_KEPT = ("key", "rank", "state", "asks", "teeth", "last_taken", "salt")


def look_through(place) -> dict[int, Plot]:
    """Sees to it that the counts of a holding are right: plots by their key where they are few; else a worker walks through them."""
    ids = [pk for (pk,) in _IDS(place.holding.pk)]
    if len(ids) <= AT_ONCE:
        return summaries_for(place, ids)
    if caches["by_worker"].add(f"summaries-{place.holding.pk}", True, WALKED_AGAIN_S):
        walk_through.enqueue(place.holding.pk, place.units)
    return {}


@task(priority=-10)  # what somebody waits for goes before
def walk_through(holding: int, units: str, after: int = 0) -> None:
    """Makes the summaries of the next plots of a holding anew where they no longer hold, for a reader of these units."""
    of = Holding.objects.filter(pk=holding).first()
    if of is None:
        return
    keep_habit(of.days)
    ids = list(Plot.objects.filter(holding=of, pk__gt=after).order_by("pk").values_list("pk", flat=True)[:A_TURN])
    summaries_for(_Reader(of, units), ids)
    if len(ids) == A_TURN:
        walk_through.enqueue(holding, units, ids[-1])


class _Reader(NamedTuple):
    """For whom the worker works them out."""

    holding: Holding
    units: str


_IDS: Prepared[tuple[int]] = Prepared(lambda holding: Plot.objects.filter(holding=holding).values_list("pk")[: AT_ONCE + 1])
_PLOTS: Prepared[Plot] = Prepared(lambda holding, *keys: Plot.objects.filter(holding=holding, pk__in=keys))
_SUMMARIES: Prepared[PlotSummary] = Prepared(lambda *plots: PlotSummary.objects.filter(plot__in=plots))
_PLANTINGS: Prepared[Planting] = Prepared(lambda *plots: Planting.objects.filter(plot__in=plots))
_CREDITS: Prepared[NutrientCredit] = Prepared(lambda *plots: NutrientCredit.objects.filter(plot__in=plots))
_LOG: Prepared[LogEntry] = Prepared(lambda *plots: LogEntry.objects.filter(plot__in=plots))
_OWN_CROPS: Prepared[OwnCrop] = Prepared(lambda holding: OwnCrop.objects.filter(holding=holding))


def _ready(holding: Holding, plot_ids: list[int]) -> list[Plot]:
    """Plots of a holding with all that their requests are made of, and their summaries; a query for each kind of row."""
    found = {plot.pk: plot for plot in _PLOTS(holding.pk, *plot_ids)} if plot_ids else {}
    if not found:
        return []
    for plot in found.values():
        plot.holding = holding
        plot._state.fields_cache["summary"] = None  # so that one without a summary is not asked for it
    plantings = _PLANTINGS(*found)
    own = {crop.pk: crop for crop in _OWN_CROPS(holding.pk)} if any(item.own_crop_id for item in plantings) else {}
    for planting in plantings:
        if planting.own_crop_id:
            planting.own_crop = own[planting.own_crop_id]
    for name, rows in (("plantings", plantings), ("gifts", _CREDITS(*found)), ("log", _LOG(*found))):
        by_plot: dict[int, list] = {pk: [] for pk in found}
        for row in rows:
            by_plot[row.plot_id].append(row)
        for pk, plot in found.items():
            hang_on(plot, name, by_plot[pk])
    for summary in _SUMMARIES(*found):
        summary.plot = found[summary.plot_id]
    return list(found.values())


def summaries_for(place, plot_ids: list[int]) -> dict[int, Plot]:
    """Plots by their key, each with a summary that holds for what is stored now, today, this reader and the present rules."""
    plots = _ready(place.holding, list(dict.fromkeys(plot_ids)))
    if not plots:
        return {}
    lines, stock = lines_by_plot(plots), stock_of(place.holding.pk)
    beside = [rules_version(tables()), place.holding.nutrient_form, place.holding.currency, habit()]
    made = []
    for plot in plots:
        about = _about(place, plot, lines[plot.pk], stock)
        key = hashlib.sha256(orjson.dumps([about, *beside])).hexdigest()
        kept = getattr(plot, "summary", None)
        if kept is None or kept.key != key:
            made.append((plot, _summary(place, plot, lines[plot.pk], about), key))
    if made:
        for plot, summary, key in made:
            summary.key, plot.summary = key, summary
        rows = [summary for _, summary, _ in made]
        PlotSummary.objects.bulk_create(rows, update_conflicts=True, unique_fields=["plot"], update_fields=_KEPT)
    return {plot.pk: plot for plot in plots}


def _about(place, plot: Plot, lines: list, stock: Stock) -> dict[str, Any]:
    """What a plot's summary is made of: its request; without a crop, what is said instead."""
    today = timezone.localdate()
    if can_plan(plot):
        return request_document(plot, plot.planting, lines, today=today, units=place.units, stock=stock)
    return {"today": today.isoformat(), "crop": plot.planting and plot.planting.crop, "taken": _last_taken(lines)}


def _last_taken(lines: list):
    return max((line.slip.taken_on for line in lines), default=None)


def _summary(place, plot: Plot, lines: list, document: dict[str, Any]) -> PlotSummary:
    today, crop = timezone.localdate(), crop_of(plot)
    last = _last_taken(lines)
    asks, teeth, state, salt = "say what you mean to grow here", [], PlotSummary.UNTESTED, ""
    if can_plan(plot) and (lines or plot.kind == "bale"):
        try:
            plan = make_plan(read_request(document, tables()), tables())
        except RequestError:
            asks, state = "a reading needs your attention", PlotSummary.ASKS
        else:
            salt = salt_says(
                next((item for item in plan.findings if item.analyte == "EC"), None),
                [read for line in lines if line.analyte == "EC" and (read := reading_of(line))],
            )
            asks = words.asks(plan, today, reader_for(place, plot), tables())
            teeth = _kept_teeth(small_rake(list(plan.findings)))
            state = PlotSummary.ASKS if asks else PlotSummary.RESTS
            if not asks and not plan.rests:
                asks, state = tell(plan.headline, place.units), PlotSummary.ASKS
            asks = asks or "nothing needed"
            if last is not None and is_too_old(last, today, tables()):
                asks, state = f"the last test is from {last:%B %Y}: test again", PlotSummary.OLD
    elif crop is not None:
        asks = "not tested yet: a careful plan is ready"
    return PlotSummary(
        plot=plot,
        rank=PlotSummary.RANKS[state],
        state=state,
        asks=asks[:300],
        teeth=teeth,
        last_taken=last,
        salt=salt,
    )


def _kept_teeth(rake: SmallRake | None) -> list:
    return [] if rake is None else [rake.width, [[tooth.x, tooth.length, tooth.kind] for tooth in rake.teeth]]


def rake_of(summary: PlotSummary) -> SmallRake | None:
    """The small rake as it was kept."""
    if not summary.teeth:
        return None
    width, teeth = summary.teeth
    return SmallRake(width, tuple(SmallTooth(*tooth) for tooth in teeth))
