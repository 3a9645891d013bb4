"""Sources of nitrogen side by side: what reaches the crop, what goes to air and water, what it costs there."""

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.material import Material

NITROUS_PER_N = 44.013 / 28.014


@record
class Conditions:
    """How and when it is spread: "never", "two_days" or "one_day" until it is worked in or rained in, "banded"; air warmth [°C]; residue
    on top.
    """

    worked_in: str = "never"
    warmth_c: float = 15.0
    residue: bool = False


@record(kw_only=True)
class NitrogenSource:
    """One material for 100 kg of nitrogen that reaches the crop [kg]: what must be spread, what is lost and where, what comes along.

    lime_kg: CaCO3 that it neutralises (below zero: that it uses up). price: own money for a kilogram that reaches the crop.
    """

    material: str
    name: str
    spread_n_kg: float
    product_kg: float
    ammonia_n_kg: float
    nitrous_oxide_kg: float
    nitrate_at_once: float
    sulfur_kg: float
    lime_kg: float
    price: float
    slow: bool

    @property
    def is_nitrate(self) -> str:
        """How much of it is nitrate, which washes out, as it is spread: "all", "some" or "none"."""
        return "all" if self.nitrate_at_once == 1 else "some" if self.nitrate_at_once > 0 else "none"


def ammonia_share(form: str, ph: float, cec_cmol_per_kg: float, conditions: Conditions, tables: Tables) -> float:
    """Share of the nitrogen that is lost as ammonia, by pH, exchange capacity and how it is spread.

    Source: emep-2019, multipliers unsure; capped.
    """
    row, figures = tables.losses.forms[form], tables.losses
    share = row.ammonia_high_ph if ph > figures.high_ph.value else row.ammonia_low_ph
    if conditions.worked_in == "banded":
        share *= figures.banded.value
    elif conditions.worked_in in ("one_day", "two_days"):
        share *= (figures.worked_in_a_day if conditions.worked_in == "one_day" else figures.worked_in_two_days).value
    if cec_cmol_per_kg < figures.low_capacity_below.value:
        share *= figures.low_capacity.value
    if conditions.warmth_c > figures.warm_from_c.value:
        share *= figures.warm.value
    elif conditions.warmth_c < figures.cool_below_c.value:
        share *= figures.cool.value
    if conditions.residue:
        share *= figures.residue.value
    return min(figures.most.value, share)


def nitrous_oxide_kg(nitrogen_kg: float, form: str, tables: Tables) -> float:
    """Nitrous oxide [kg N2O] that nitrogen [kg] gives off directly in a wet climate. Source: ipcc-2019.

    >>> from agronomy.tables import load_tables
    >>> round(nitrous_oxide_kg(100.0, "urea", load_tables()), 2)
    2.51
    """
    figures = tables.losses
    share = (figures.nitrous_organic if form == "organic" else figures.nitrous_wet).value
    if tables.losses.forms[form].inhibits_nitrous:
        share *= figures.nitrous_inhibited.value
    return nitrogen_kg * share * NITROUS_PER_N


def side_by_side(
    materials: list[Material], ph: float, soil: Soil, conditions: Conditions, prices: dict[str, float], tables: Tables
) -> list[NitrogenSource]:
    """Every material with nitrogen and a known form, the cheapest per kilogram that reaches the crop first.

    `prices` override the list's [per kg]. Source: emep-2019, ipcc-2019.
    """
    found = [
        _source(material, ph, soil, conditions, prices, tables)
        for material in materials
        if material.n_form and material.n * material.available_n > 0
    ]
    return sorted(found, key=lambda item: (item.price, item.name))


def _source(material: Material, ph: float, soil: Soil, conditions: Conditions, prices: dict[str, float], tables: Tables) -> NitrogenSource:
    form = required(material.n_form)
    ammonia = ammonia_share(form, ph, soil.cec_cmol_per_kg, conditions, tables)
    spread = 100 / ((1 - ammonia) * material.available_n)
    product = spread / (material.n / 100)
    price = prices.get(material.key, material.list_price_per_kg)
    return NitrogenSource(
        material=material.key,
        name=material.name,
        spread_n_kg=spread,
        product_kg=product,
        ammonia_n_kg=spread * material.available_n * ammonia,
        nitrous_oxide_kg=nitrous_oxide_kg(spread, form, tables),
        nitrate_at_once=tables.losses.forms[form].nitrate_share,
        sulfur_kg=product * material.s / 100,
        lime_kg=product * material.cce / 100,
        price=product * price / 100,
        slow=material.speed in ("months", "seasons", "years"),
    )
