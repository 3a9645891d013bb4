"""How much manure or compost: by nitrogen, held back by phosphate, potash and the owner's cap; what it gives in three years; waits and
tests.
"""

from agronomy.base.errors import UnknownName, check_range
from agronomy.base.record import record
from agronomy.base.said import Measure, say
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.nitrogen import ManureRow


@record
class Limit:
    """One thing that sets a rate: what it is, the rate it allows [t/ha], how that came about."""

    name: str
    t_per_ha: float
    step: Step


@record(kw_only=True)
class ManureRate:
    """A rate of manure [t/ha] and which limit set it; nitrogen in years 1 to 3 [kg/ha], ammonia lost [kg N/ha], phosphate and potash
    brought [kg/ha].

    `left_n` is what the crop still needs from elsewhere; `over_p2o5` what comes beyond need and stays in the soil.
    """

    key: str
    name: str
    t_per_ha: float
    set_by: str
    limits: tuple[Limit, ...]
    nitrogen: tuple[float, float, float]
    lost_n: float
    p2o5: float
    k2o: float
    left_n: float
    over_p2o5: float
    says: tuple[str, ...]


def available_n_per_t(ammonium: float, organic: float, kept: float, mineralised: float) -> float:
    """Nitrogen a crop can use [kg/t] from ammonium and organic nitrogen [kg/t]. Source: n-manure.

    >>> round(available_n_per_t(1.5, 3.0, 0.65, 0.35), 3)
    2.025
    """
    return ammonium * kept + organic * mineralised


def _known(key: str, worked_in: str, tables: Tables) -> ManureRow:
    row = tables.nitrogen.manures.get(key)
    if row is None:
        raise UnknownName(
            "manure", key[:40], f"“{key[:40]}” is not in our list of manures", f"use one of {', '.join(tables.nitrogen.manures)}"
        )
    if worked_in not in tables.nitrogen.worked_in:
        raise UnknownName(
            "worked_in", worked_in[:40], f"“{worked_in[:40]}” is no way of working in", f"use one of {', '.join(tables.nitrogen.worked_in)}"
        )
    return row


def manure_rate(
    key: str,
    tables: Tables,
    *,
    n_need: float,
    p2o5_need: float | None = None,
    k2o_need: float | None = None,
    n_cap: float | None = None,
    worked_in: str = "never",
    ammonium: float | None = None,
    organic: float | None = None,
    by_phosphate: bool = True,
) -> ManureRate:
    """The rate of a manure for needs in kg/ha (None: that one is not minded), by how soon it is worked in and its own analysis [kg/t].

    The smallest of the limits wins. Raises UnknownName for a manure or a way, OutOfRange for figures that cannot be. Source: n-manure.

    >>> from agronomy.tables import load_tables
    >>> round(manure_rate("pig_slurry", load_tables(), n_need=100).t_per_ha, 2)
    92.59
    """
    row = _known(key, worked_in, tables)
    check_range("nitrogen need", n_need, low=0, high=1000, unit="kg/ha")
    ammonium = row.ammonium_kg_per_t if ammonium is None else check_range("ammonium", ammonium, low=0, high=60, unit="kg/t")
    organic = row.organic_kg_per_t if organic is None else check_range("organic", organic, low=0, high=140, unit="kg/t")
    kept, figures = tables.nitrogen.worked_in[worked_in].kept, tables.organics
    first = available_n_per_t(ammonium, organic, kept, row.year_1)
    limits = [_limit("nitrogen need", n_need, first, row)]
    p_share, k_share = figures.p_available.value, figures.k_available.value
    if by_phosphate and p2o5_need is not None:
        limits.append(_limit("phosphate need", p2o5_need, row.p2o5_kg_per_t * p_share, row))
    if k2o_need is not None:
        limits.append(_limit("potash need", k2o_need, row.k2o_kg_per_t * k_share, row))
    if n_cap is not None:
        limits.append(_limit("your cap on nitrogen", n_cap, ammonium + organic, row))
    found = [limit for limit in limits if limit is not None]
    chosen = min(found, key=lambda limit: limit.t_per_ha)
    rate = chosen.t_per_ha
    nitrogen = (rate * first, rate * organic * row.year_2, rate * organic * row.year_3)
    brought = rate * row.p2o5_kg_per_t
    return ManureRate(
        key=key,
        name=row.name,
        t_per_ha=rate,
        set_by=chosen.name,
        limits=tuple(found),
        nitrogen=nitrogen,
        lost_n=rate * ammonium * (1 - kept),
        p2o5=brought,
        k2o=rate * row.k2o_kg_per_t,
        left_n=max(0.0, n_need - nitrogen[0]),
        over_p2o5=max(0.0, brought * p_share - (p2o5_need or 0.0)),
        says=manure_says(tables.materials[row.material], tables),
    )


def _limit(name: str, need: float, per_t: float, row: ManureRow) -> Limit | None:
    if per_t <= 0:
        return None
    step = Step(
        name,
        "need / a tonne gives",
        {"need": Figure(need, "kg/ha"), "a tonne gives": Figure(per_t, "kg/t")},
        Figure(need / per_t, "t/ha"),
        row.source,
        row.where,
    )
    return Limit(name, max(0.0, need) / per_t, step)


def manure_says(manure: Material, tables: Tables) -> tuple[str, ...]:
    """Waits, tests and cautions that go with a manure. Source: nop-manure, residue-test.

    Waits in days.

    >>> from agronomy.intake.example import tables
    >>> len(manure_says(tables.materials["cattle_manure"], tables)) > 0
    True
    """
    figures, said = tables.organics, []
    if manure.raw_manure:
        said.append(
            say(
                "Raw: food whose eaten part touches soil waits {raw_days_touching:.0f} days from working in to harvest, "
                "other food {raw_days_other:.0f}; flowers need no such wait. Look up the rule that binds you.",
                raw_days_touching=figures.raw_days_touching.value,
                raw_days_other=figures.raw_days_other.value,
            )
        )
        said.append(
            say("Keep animals off grass for {stock_off_days:.0f} days or what your rule says.", stock_off_days=figures.stock_off_days.value)
        )
    else:
        said.append(
            say("Composted: no wait before harvest if it held {55 °C} long enough, three days in a vessel or fifteen in a turned row.")
        )
    if manure.may_carry_weed_killer:
        said.append(
            say(
                "It may carry weed killer that cripples beans, tomatoes, dahlias and sunflowers: sow beans in three pots "
                "of it and three of clean mix, and look for cupped leaves after {pot_test_days:.0f} days.",
                pot_test_days=figures.pot_test_days.value,
            )
        )
    if manure.salty_compost:
        said.append(
            say(
                "Salty: test it, and above {salty_ec:g} dS/m no more than {most_layer:g} in a season, never in a seed bed.",
                salty_ec=figures.salty_ec.value,
                most_layer=Measure(figures.most_layer_cm.value, "cm"),
            )
        )
    if manure.gives_off_gas:
        said.append(say("Stirred slurry gives off gas that kills: nobody enters a pit or tank, stir in the open, keep others away."))
    return tuple(said)
