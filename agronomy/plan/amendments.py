"""What is no fertilizer and yet the first thing to bring: gypsum against sodium, compost by the load on ground that has lost its humus."""

from datetime import timedelta

from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application
from agronomy.dose.plain import plain_dose
from agronomy.interpret.salinity import gypsum_t_per_ha
from agronomy.model.answers import Need
from agronomy.model.seasons import Window
from agronomy.plan.assess import Assessment
from agronomy.products.choice import price_beyond_stock, price_of
from agronomy.products.packs import price_in_form
from agronomy.schedule.nutrient_parts import before_planting
from agronomy.tables import Tables
from agronomy.tables.rooms.salinity import Salinity


def _gypsum_now(rate: float, pure: float, figures: Salinity) -> Step:
    return Step(
        "gypsum for now",
        "min(most at once, pure gypsum / purity)",
        {
            "pure gypsum": Figure(pure, "kg/ha"),
            "purity": Figure.of(figures.gypsum_purity),
            "most at once": Figure.of(figures.gypsum_most_at_once_kg_per_ha),
        },
        Figure(rate, "kg/ha"),
        "richards-1954",
    )


def _before_leaching(found: Assessment) -> Window:
    """From today to a month before planting, or a month where something stands or is planted soon."""
    calendar, today = found.calendar, found.request.today
    end = calendar.anchor - timedelta(days=30)
    is_early = not calendar.stands and end > today + timedelta(days=7)
    return Window(today, end if is_early else today + timedelta(days=30))


def gypsum_dose(found: Assessment, tables: Tables) -> tuple[list[Application], list[Need]]:
    """The first dressing of gypsum on sodic ground, within the most for one; the rest waits for a test after leaching.

    Source: richards-1954.
    Rates in kg/ha.

    >>> from agronomy.intake.example import found, tables
    >>> gypsum_dose(found(), tables)
    ([], [])
    """
    sodium = found.salt.get("Na")
    request, figures = found.request, tables.salinity
    if sodium is None or sodium.class_ != "sodic" or request.plot.ground in ("container", "bale"):
        return [], []
    pure = 1000 * gypsum_t_per_ha(
        found.soil.cec_cmol_per_kg, sodium.value, figures.gypsum_to_pct.value, found.soil.soil_mass_t_per_ha, tables
    )
    purity, most = figures.gypsum_purity.value, figures.gypsum_most_at_once_kg_per_ha.value
    rate = min(pure / purity, most)
    step = _gypsum_now(rate, pure, figures)
    window = _before_leaching(found)
    why = say("{why} Gypsum pushes the sodium off, and water has to carry it down.", why=sodium.why)
    gypsum = tables.materials[tables.products.standard["gypsum"].material]
    line = request.shed.get(gypsum.key)
    total_kg = rate * request.plot.area_m2 / 10_000
    own_or_list = price_beyond_stock(price_of(gypsum, line), total_kg, gypsum, line)
    item = plain_dose(
        gypsum,
        "Na",
        rate,
        area_m2=request.plot.area_m2,
        system=request.units,
        start=window.start,
        end=window.end,
        placement=say("spread on the surface and harrowed in shallowly, then leached")
        if found.soil.dug and not (found.calendar.stands or found.calendar.growing)
        else say("spread on the surface, then leached"),
        depth_cm=found.soil.depth_cm,
        why=why,
        note=(
            say(
                "Walk the drain first: it must run before water is let on. Then leach with {200 to 300 mm} of good water, "
                "in floods of about {100 mm} ten days apart. Without water gypsum does nothing. By the load from the "
                "mine, not in bags."
            )
        ),
        price_per_kg=price_in_form(own_or_list, total_kg, gypsum, request, tables),
        working=(step,),
    )
    need = Need(
        what="Na",
        rate_kg_per_ha=pure,
        low_kg_per_ha=0.65 * pure,
        high_kg_per_ha=1.35 * pure,
        method=say("sodium of the exchange capacity"),
        why=why,
        working=(*sodium.working, step),
    )
    return [item], [need]


def wants_compost(found: Assessment, tables: Tables) -> bool:
    """Whether a bed to be planted has so little humus that compost by the load comes before any bag. Source: own-experience.

    Humus in %.

    >>> from agronomy.intake.example import found, tables
    >>> wants_compost(found(organic_matter_pct=1), tables)
    True
    """
    request, soil = found.request, found.soil
    calendar = found.calendar
    phosphorus, figures = found.judged.get("P"), tables.organics
    poor_below = (figures.poor_humus_light_below_pct if soil.is_light else figures.poor_humus_below_pct).value
    return (
        request.plot.ground == "bed"
        and soil.dug
        and soil.organic_matter_known
        and soil.organic_matter_pct < poor_below
        and not calendar.stands
        and not calendar.growing
        and request.only is None
        and tables.products.standard["compost_by_the_load"].material not in request.without
        and not (phosphorus is not None and phosphorus[0].is_plenty)
        and not request.crop.is_acid_lover
        and not any(finding.class_ != "right" for finding in found.salt.values())
        and found.request.crop.feeding in ("hungry", "medium")
    )


def compost_dose(found: Assessment, tables: Tables) -> list[Application]:
    """Compost by the load, once, worked in some weeks before planting. Source: own-experience.

    Rates in kg/ha.

    >>> from agronomy.intake.example import found, tables
    >>> [item.name for item in compost_dose(found(organic_matter_pct=1), tables)]
    ['compost of green waste']
    """
    request, figures = found.request, tables.organics
    calendar = found.calendar
    window = before_planting(tables.timing.bulk_organic, calendar, tables)
    rate = figures.new_ground_compost_t_per_ha.value * 1000
    step = Step(
        "compost for poor ground",
        "tonnes × 1000",
        {"tonnes": Figure.of(figures.new_ground_compost_t_per_ha)},
        Figure(rate, "kg/ha"),
        figures.new_ground_compost_t_per_ha.source,
        figures.new_ground_compost_t_per_ha.where,
    )
    cubic = rate * request.plot.area_m2 / 10_000 / 600
    return [
        plain_dose(
            tables.materials[tables.products.standard["compost_by_the_load"].material],
            "OM",
            rate,
            area_m2=request.plot.area_m2,
            system=request.units,
            start=window.start,
            end=window.end,
            placement=tables.timing.bulk_organic.placement_dug,
            depth_cm=found.soil.depth_cm,
            why=say(
                "Organic matter is {organic_matter:.1f} %, where 3 to 4 would be normal: compost comes before any fertilizer.",
                organic_matter=found.soil.organic_matter_pct,
            ),
            note=say(
                "About {cubic:.1f} m³, loose by the load: a third of the price in bags. Once, not every year: it is rich in phosphate.",
                cubic=cubic,
            ),
            working=(step,),
        )
    ]
