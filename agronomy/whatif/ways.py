"""Ways to move pH beside the plan's own choice: limes by speed and price, sulfurs by grain and warmth, quick salts with their caps,
upkeep, stop-gaps.
"""

from math import ceil

from agronomy.base.errors import check_range
from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.model.answers import Need
from agronomy.model.soil import Soil
from agronomy.products.choice import AvailableProducts
from agronomy.recommend.acidity.buffer_capacity import caco3_per_ph
from agronomy.recommend.acidity.caps import ApplicationLimit
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.whatif.forecast.sulfur import sulfur_oxidised

MONTHS = (3, 6, 12)


@record(kw_only=True)
class LimeWay:
    """One lime for a need: product [kg/ha], its cost [own money/ha], how fast it works, magnesium it brings [kg/ha], caustic or not,
    dressings.
    """

    material: Material
    rate_kg_per_ha: float
    cost_per_ha: float
    magnesium_kg_per_ha: float
    caustic: bool
    dressings: int
    in_time: bool


def lime_ways(
    need: Need, shop: AvailableProducts, dressing: ApplicationLimit, tables: Tables, *, months_left: float | None = None
) -> list[LimeWay]:
    """Every lime for a need, those that work in time first and then the cheapest; caustic ones too, marked.

    Source: lime-fineness-tri, lime-caps.
    Rates in kg/ha, waits in months [months].

    >>> from agronomy.intake.example import bed, soil, needs, shop, tables
    >>> from agronomy.recommend.acidity.caps import lime_limit
    >>> lime_ways(needs()[0], shop(), lime_limit("bed", bed().crop, soil(), tables), tables)[0].material.key
    'wood_ash'
    """
    found = []
    for material in tables.materials.values():
        if not material.has_role("lime") or material.effective_neutralising_value <= 0:
            continue
        rate = need.rate_kg_per_ha / material.effective_neutralising_value
        caustic = material.is_caustic
        in_time = months_left is None or tables.acidity.lime_speeds[material.speed].serves_from_months <= months_left
        count = max(1, ceil(need.rate_kg_per_ha / dressing.max_kg_per_ha - 1e-9))
        found.append(
            LimeWay(
                material=material,
                rate_kg_per_ha=rate,
                cost_per_ha=rate * shop.price_per_kg(material),
                magnesium_kg_per_ha=rate * material.mg / 100,
                caustic=caustic,
                dressings=count,
                in_time=in_time,
            )
        )
    return sorted(found, key=lambda way: (not way.in_time, way.cost_per_ha, way.material.name))


@record(kw_only=True)
class SulfurWay:
    """One sulfur for a need: product [kg/ha], its cost [own money/ha], share turned to acid after MONTHS at the soil's warmth (broken up,
    and whole where it may stay so).
    """

    material: Material
    rate_kg_per_ha: float
    cost_per_ha: float
    done: tuple[float, ...]
    done_whole: tuple[float, ...] | None
    dressings: int
    months_between: int


def _oxidised(grain_um: float, warmth_c: float, tables: Tables) -> tuple[float, ...]:
    """Share turned to acid after MONTHS."""
    return tuple(float(sulfur_oxidised(month * 30.4, grain_um, warmth_c, tables)) for month in MONTHS)


def sulfur_ways(need: Need, shop: AvailableProducts, dressing: ApplicationLimit, warmth_c: float, tables: Tables) -> list[SulfurWay]:
    """Elemental sulfurs for a need, the cheapest first. Source: janzen-1987, sulfur-caps.

    Rates in kg/ha.
    """
    found = []
    for key, row in tables.acidity.sulfur_grains.items():
        material = tables.materials[key]
        rate = need.rate_kg_per_ha / (material.s / 100)
        done = _oxidised(row.grain_um, warmth_c, tables)
        whole = _oxidised(row.unbroken_um, warmth_c, tables) if row.unbroken_um else None
        count = max(1, ceil(need.rate_kg_per_ha / dressing.max_kg_per_ha - 1e-9))
        found.append(
            SulfurWay(
                material=material,
                rate_kg_per_ha=rate,
                cost_per_ha=rate * shop.price_per_kg(material),
                done=done,
                done_whole=whole,
                dressings=count,
                months_between=dressing.again_after_months,
            )
        )
    return sorted(found, key=lambda way: way.cost_per_ha)


@record(kw_only=True)
class QuickWay:
    """A salt that lowers pH within weeks: all it would take [g/m2], the most at a time, how many times, and what forbids it."""

    material: Material
    needed_g_per_m2: float
    most_g_per_m2: float
    times: int
    forbidden: str
    says: str
    works: str


def quick_ways(need: Need, ph: float, tables: Tables) -> list[QuickWay]:
    """Aluminium and iron sulfate for a need of sulfur, by the acid that they make. Source: sulfur-stoichiometry, sulfur-caps.

    Rates in kg/ha.
    """
    found = []
    for key, row in tables.acidity.quick_acid.items():
        material = tables.materials[key]
        share = -material.cce / 100 * tables.acidity.sulfur_per_caco3.value
        needed = need.rate_kg_per_ha / 10 / share
        times, most = ceil(needed / row.most_g_per_m2 - 1e-9), tables.acidity.quick_times_sensible.value
        forbidden = say("never below pH {not_below_ph:g}", not_below_ph=row.not_below_ph) if ph <= row.not_below_ph else ""
        if not forbidden and times > most:
            forbidden = say(
                "{times} times is no way to go: roots would stand in salt. Take sulfur and time, or a raised bed or pot of acid mix",
                times=times,
            )
        found.append(
            QuickWay(
                material=material,
                needed_g_per_m2=needed,
                most_g_per_m2=row.most_g_per_m2,
                times=times,
                forbidden=forbidden,
                says=row.says,
                works=row.works,
            )
        )
    return found


def vinegar_l_per_m2(drop: float, soil: Soil, depth_cm: float, tables: Tables) -> float:
    """Vinegar of 5 % [L/m2] that would lower pH by so much in a layer, for some days: a stop-gap that is not worth it. Source: acid-water.

    A loam of 20 cm takes some 5.5 L for one unit of pH. Raises OutOfRange for a drop outside 0.1 to 3.

    >>> from agronomy.intake.example import soil, tables
    >>> round(vinegar_l_per_m2(0.5, soil(), 10, tables))
    1
    """
    check_range("drop", drop, low=0.1, high=3)
    molc_per_m2 = caco3_per_ph(soil, depth_cm, tables) * drop / 10_000 * 1000 / 50.04
    return molc_per_m2 / required(tables.liquids.acids["vinegar"].normality)


def upkeep_sulfur(alkalinity_mg_per_l: float | None, water_mm: float | None, tables: Tables) -> float | None:
    """Sulfur [kg/ha a year] that undoes the lime in the water given; None where the water is not known. Source: sulfur-stoichiometry.

    >>> from agronomy.tables import load_tables
    >>> round(upkeep_sulfur(200.0, 450.0, load_tables()), 2)
    288.27
    """
    if alkalinity_mg_per_l is None or water_mm is None:
        return None
    return alkalinity_mg_per_l * water_mm * 0.01 * tables.acidity.sulfur_per_caco3.value
