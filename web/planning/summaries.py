"""What each plot asks for, kept ready: worked out when something changed, and only for the plots that a page needs."""

from typing import Any, NamedTuple

from django.core.cache import caches
from django.db.models import Q, prefetch_related_objects
from django.utils import timezone
from django_tasks import task

from agronomy.base.errors import RequestError
from agronomy.plan.plan import rules_version
from agronomy.schedule.windows import is_too_old
from agronomy.watch.salt_trend import salt_says
from web.core import tables
from web.date_format import keep_habit
from web.drawing.rake import SmallRake, SmallTooth, small_rake
from web.ground.models import Planting, Plot
from web.people.models import Holding
from web.planning import words
from web.planning.models import PlotSummary
from web.planning.service import can_plan, crop_of, lines_by_plot, plan_for, reader_for
from web.prepared import Prepared, hang_on
from web.readings.past import reading_of
from web.sentences import tell
from web.supplies.stock import Stock, stock_of

RENEWED_AT_ONCE = 60
GIVEN_UP_S = 120  # a worker that did nothing for so long was stopped
_KEPT = ("is_stale", "rank", "state", "asks", "teeth", "last_taken", "salt", "computed_on", "habits", "rules_version")


def habits_of(place) -> str:
    return f"{place.units}/{place.holding.nutrient_form}"


def renew_stale(place) -> None:
    """Works out what has changed since, up to a number that keeps a page quick; the rest is left to the worker."""
    holds = Q(summary__is_stale=False, **{f"summary__{name}": value for name, value in _made_for(place).items()})
    stale = list(Plot.objects.filter(holding=place.holding).exclude(holds).values_list("pk", flat=True)[: RENEWED_AT_ONCE + 1])
    _renew(place, _ready(place.holding, stale[:RENEWED_AT_ONCE]))
    if len(stale) > RENEWED_AT_ONCE and caches["by_worker"].add(_under_way(place.holding.pk), True, GIVEN_UP_S):
        renew_the_rest.enqueue(place.holding.pk, place.units)


def _under_way(holding: int) -> str:
    return f"summaries-{holding}"


@task(priority=-10)  # what somebody waits for goes before
def renew_the_rest(holding: int, units: str) -> None:
    """Works out a part of the stale summaries of a holding, for a reader of these units, and leaves what is left for another turn."""
    caches["by_worker"].delete(_under_way(holding))
    of = Holding.objects.filter(pk=holding).first()
    if of is not None:
        keep_habit(of.days)
        renew_stale(_Reader(of, units))


class _Reader(NamedTuple):
    """For whom the worker works them out."""

    holding: Holding
    units: str


_PLOTS: Prepared[Plot] = Prepared(lambda holding, *keys: Plot.objects.filter(holding=holding, pk__in=keys))
_SUMMARIES: Prepared[PlotSummary] = Prepared(lambda *plots: PlotSummary.objects.filter(plot__in=plots))
_PLANTINGS: Prepared[Planting] = Prepared(lambda *plots: Planting.objects.filter(plot__in=plots))


def _ready(holding: Holding, plot_ids: list[int]) -> list[Plot]:
    """Plots of a holding with their plantings, and their summaries where they have one."""
    found = {plot.pk: plot for plot in _PLOTS(holding.pk, *plot_ids)} if plot_ids else {}
    if not found:
        return []
    plantings: dict[int, list[Planting]] = {pk: [] for pk in found}
    for planting in _PLANTINGS(*found):
        plantings[planting.plot_id].append(planting)
    for pk, plot in found.items():
        plot.holding = holding
        plot._state.fields_cache["summary"] = None  # so that one without a summary is not asked for it
        hang_on(plot, "plantings", plantings[pk])
    for summary in _SUMMARIES(*found):
        summary.plot = found[summary.plot_id]
    return list(found.values())


def summaries_for(place, plot_ids: list[int]) -> dict[int, Plot]:
    """Plots by their key, each with a summary that holds for today, this reader and the present rules."""
    plots = _ready(place.holding, list(dict.fromkeys(plot_ids)))
    made_for = _made_for(place)
    _renew(place, [plot for plot in plots if not _holds(plot, made_for)])
    return {plot.pk: plot for plot in plots}


def _made_for(place) -> dict[str, Any]:
    """What a summary that holds was made for, by its columns: this day, this reader and the present rules."""
    return {"computed_on": timezone.localdate(), "habits": habits_of(place), "rules_version": rules_version(tables())}


def _holds(plot: Plot, made_for: dict[str, Any]) -> bool:
    summary = getattr(plot, "summary", None)
    return summary is not None and not summary.is_stale and all(getattr(summary, name) == value for name, value in made_for.items())


def _renew(place, plots: list[Plot]) -> None:
    if not plots:
        return
    prefetch_related_objects(plots, "plantings__own_crop", "gifts", "log")
    lines = lines_by_plot(plots)
    stock = stock_of(place.holding.pk)
    made = [_summary(place, plot, lines[plot.pk], stock) for plot in plots]
    PlotSummary.objects.bulk_create(made, update_conflicts=True, unique_fields=["plot"], update_fields=_KEPT)
    for plot, summary in zip(plots, made, strict=True):
        plot.summary = summary


def _summary(place, plot: Plot, lines: list, stock: Stock) -> PlotSummary:
    today, crop = timezone.localdate(), crop_of(plot)
    last = max((line.slip.taken_on for line in lines), default=None)
    asks, teeth, state, salt = "say what you mean to grow here", [], PlotSummary.UNTESTED, ""
    if can_plan(plot) and (lines or plot.kind == "bale"):
        try:
            plan = plan_for(plot, lines, today=today, units=place.units, stock=stock)
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
        asks = "not tested yet: a careful plan stands ready"
    return PlotSummary(
        plot=plot,
        is_stale=False,
        rank=PlotSummary.RANKS[state],
        state=state,
        asks=asks[:300],
        teeth=teeth,
        last_taken=last,
        salt=salt,
        **_made_for(place),
    )


def _kept_teeth(rake: SmallRake | None) -> list:
    return [] if rake is None else [rake.width, [[tooth.x, tooth.length, tooth.kind] for tooth in rake.teeth]]


def rake_of(summary: PlotSummary) -> SmallRake | None:
    """The small rake as it was kept."""
    if not summary.teeth:
        return None
    width, teeth = summary.teeth
    return SmallRake(width, tuple(SmallTooth(*tooth) for tooth in teeth))
