"""What is known of a plot without anybody looking: its ground, what was put on, its water and the usual warmth of the month."""

from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.base.said import Measure, say
from agronomy.model.climate import soil_warmth
from agronomy.model.reading import Reading
from agronomy.model.request import Request
from agronomy.model.soil import Soil
from agronomy.recommend.acidity.buffer_capacity import in_mix
from agronomy.recommend.schools.already_applied import brings
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O

YEAR, SEASON = timedelta(days=365), timedelta(days=183)


@record
class Known:
    """A feature of the key that the plot itself answers, and how it is known."""

    feature: str
    says: str


def known_of(request: Request, soil: Soil, readings: dict[str, Reading], tables: Tables) -> tuple[Known, ...]:
    """What the plot's ground, log, water and climate answer in the key. Source: symptom-weights.

    Dressings in kg/ha.

    >>> from agronomy.intake.example import bed, found, tables
    >>> [item.feature for item in known_of(bed(), found().soil, found().readings, tables)]
    []
    """
    figures, today = tables.watch, request.today
    told = []
    if request.plot.ground == "container":
        told.append(Known("dist_pot", "it stands in pots"))
    elif in_mix(soil) is None and soil.is_light:
        told.append(Known("gr_sandy", "light ground"))
    potash = _given(request, "K", today - YEAR, tables) / K_IN_K2O
    if potash >= figures.much_potash.value:
        told.append(Known("gr_k_heavy", say("{potash:.0f} of K₂O within a year, by the log", potash=Measure(potash, "kg/ha"))))
    nitrogen = _given(request, "N", today - SEASON, tables)
    if nitrogen >= figures.much_nitrogen.value:
        told.append(Known("gr_n_heavy", say("{nitrogen:.0f} of nitrogen this season, by the log", nitrogen=Measure(nitrogen, "kg/ha"))))
    limed = [done.on for done in request.done if done.material.cce > 0 and done.material.has_role("lime") and done.on <= today]
    if limed and (today - max(limed)).days <= figures.lime_lately_days.value:
        told.append(Known("time_lime", say("{day}: lime or ash went on, by the log", day=_day(max(limed)))))
    alkalinity = readings.get("alkalinity")
    if alkalinity is not None and alkalinity.value >= tables.timing.retest.alkaline_water_from_mg_per_l:
        told.append(Known("gr_hard_water", say("water with {alkalinity:.0f} mg/L of lime", alkalinity=alkalinity.value)))
    if request.climate is not None and not request.plot.is_under_film and request.plot.ground not in ("bale", "container"):
        warmth = soil_warmth(today, request.climate, tables, grass=request.crop.is_grass)
        if warmth < figures.cold_below_c.value:
            told.append(Known("gr_cold", say("ground that is usually cold in this month")))
    return tuple(told)


def _given(request: Request, what: str, since: date, tables: Tables) -> float:
    return sum(brings(done, what, tables) for done in request.done if since <= done.on <= request.today)


def _day(day: date) -> str:
    return f"{day:%-d %b %Y}"
