"""Lime by what the plot's own tests have shown of its buffering."""

from dataclasses import replace

from agronomy.base.said import say
from agronomy.base.uncertainty import HALF_WIDTH_80, band
from agronomy.base.working import Banded, Figure, Step
from agronomy.model.answers import Method, Need
from agronomy.model.own_buffering import OwnBuffering
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.recommend.acidity.buffer_capacity import buffering_steps, caco3_per_ph, in_mix
from agronomy.tables import Tables

METHOD = "your own tests"


def own_lime_need(ph: Reading, own: OwnBuffering, *, target_ph: float, depth_cm: float, soil: Soil, tables: Tables) -> Banded:
    """Pure CaCO3 [kg/ha] to a target, by the table's buffering times what the plot's own tests have shown. Source: trend-learning.

    >>> from agronomy.intake.example import found, soil, tables
    >>> own = OwnBuffering(1.5, 1.2, 1.9, 3)
    >>> need = own_lime_need(found().readings["pH"], own, target_ph=6.5, depth_cm=20, soil=soil(), tables=tables)
    >>> need.low < need.value < need.high
    True
    """
    per_ph = caco3_per_ph(soil, depth_cm, tables)
    field = 1.0 if in_mix(soil) else tables.acidity.field_factor.value
    rise = max(0.0, target_ph - ph.value)
    need = rise * per_ph * field * own.times
    reach = HALF_WIDTH_80 * ph.u * per_ph * field * own.times
    low, high = band(need, (need - reach, need + reach), (need * own.low / own.times, need * own.high / own.times))
    step = Step(
        "need by your own tests",
        "rise × for one pH unit × field factor × your ground",
        {
            "rise": Figure(rise, "pH"),
            "for one pH unit": Figure(per_ph, "kg/ha"),
            "field factor": Figure(field, "", tables.acidity.field_factor.source),
            "your ground": Figure(own.times, "times", "trend-learning"),
        },
        Figure(need, "kg/ha"),
        "trend-learning",
        "two figures carried from test to test",
    )
    return Banded(need, max(0.0, low), high, (*buffering_steps(soil, depth_cm, per_ph, tables), step))


def own_sulfur_need(need: Need, own: OwnBuffering, *, most: float) -> Need:
    """A need of sulfur [kg/ha] by what the plot's own tests have shown, `most` at the most; the table's stays beside it.

    Free lime uses up sulfur whatever the buffering, so a need that counts it is not for this. Source: trend-learning.

    >>> from agronomy.intake.example import needs
    >>> own_sulfur_need(needs()[0], OwnBuffering(1.2, 1.0, 1.5, 3), most=1e9).rate_kg_per_ha == 1.2 * needs()[0].rate_kg_per_ha
    True
    """
    rate = min(most, need.rate_kg_per_ha * own.times)
    low, high = band(rate, (need.low_kg_per_ha, need.high_kg_per_ha), (rate * own.low / own.times, rate * own.high / own.times))
    step = Step(
        "need by your own tests",
        "min(most worth trying, by the table × your ground)",
        {
            "most worth trying": Figure(most, "kg/ha"),
            "by the table": Figure(need.rate_kg_per_ha, "kg/ha"),
            "your ground": Figure(own.times, "times", "trend-learning"),
        },
        Figure(rate, "kg/ha"),
        "trend-learning",
    )
    return replace(
        need,
        rate_kg_per_ha=rate,
        low_kg_per_ha=max(0.0, low),
        high_kg_per_ha=high,
        method=METHOD,
        why=say("{why} By {tests} tests this ground takes {times:.1f} times the table’s.", why=need.why, tests=own.tests, times=own.times),
        others=(Method(need.method, need.rate_kg_per_ha, say("without what your tests have shown")), *need.others),
        working=(*need.working, step),
    )
