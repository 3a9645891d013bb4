"""What holds a plot where it is, once it is right: a little lime or sulfur, and what the harvest takes, year by year."""

from agronomy.base.record import record
from agronomy.base.working import Figure, Step
from agronomy.model.reading import best_readings
from agronomy.model.request import Request
from agronomy.plan.plan import make_plan
from agronomy.plan.water import lime_a_year
from agronomy.recommend.schools.removal import removal
from agronomy.tables import Tables
from agronomy.whatif.forecast.acidity import leaching_load
from agronomy.whatif.forecast.outlook import acid_load

DRESSINGS = 3  # told ahead


@record(kw_only=True)
class Upkeep:
    """What a year takes of one analyte, as it is given to hold it [kg/ha a year of `what`], and the years of the next dressings; `each` is
    the amount of one dressing [kg/ha]. Nothing is to be given where `a_year` is nought.
    """

    what: str
    a_year: float
    each: float
    years: tuple[int, ...]
    step: Step


def hold_ph(acid: float, watered: float, year: int, tables: Tables) -> Upkeep:
    """Lime [kg CaCO3/ha] against a yearly acid load, or sulfur against water that limes more than that [both kg CaCO3/ha a year].

    Source: acid-load.

    >>> from agronomy.intake.example import tables
    >>> held = hold_ph(520.0, 900.0, 2027, tables)
    >>> held.what, round(held.a_year, 1)
    ('S_acid', 121.7)
    """
    load, per_lime = acid - watered, tables.acidity.sulfur_per_caco3
    inputs = {"acid of a year, as lime": Figure(acid, "kg/ha"), "lime in the water": Figure(watered, "kg/ha")}
    if load >= 0:
        step = Step("lime that holds it", "acid of a year, as lime − lime in the water", inputs, Figure(load, "kg/ha"), "acid-load")
        every = int(tables.forecast.upkeep_lime_years.value)
        return Upkeep(what="CaCO3", a_year=load, each=load * every, years=_years(year, every), step=step)
    sulfur = -load * per_lime.value
    step = Step(
        "sulfur that holds it",
        "(lime in the water − acid of a year, as lime) × sulfur for each",
        inputs | {"sulfur for each": Figure.of(per_lime)},
        Figure(sulfur, "kg/ha"),
        "acid-load",
    )
    return Upkeep(what="S_acid", a_year=sulfur, each=sulfur, years=_years(year, 1), step=step)


def _years(year: int, every: int) -> tuple[int, ...]:
    return tuple(year + every * number for number in range(1, DRESSINGS + 1))


def upkeep(request: Request, analyte: str, tables: Tables) -> Upkeep | None:
    """What holds pH, phosphorus or potassium of a plot by its crop, its nitrogen and its water; None where no figure is known.

    Source: acid-load, crop-removal.

    >>> from agronomy.intake.example import bed, tables
    >>> upkeep(bed("onion"), "K", tables).what
    'K2O'
    """
    year = request.today.year
    if analyte != "pH":
        taken = removal(request.crop, analyte, request.removal_yield_t_per_ha, tables, own=request.own_pools.get(analyte))
        if taken is None:
            return None
        return Upkeep(what=taken.oxide, a_year=taken.kg_per_ha, each=taken.kg_per_ha, years=_years(year, 1), step=taken.step)
    readings = best_readings(list(request.readings))
    if "pH" not in readings:
        return None
    drained = 0.0 if request.plot.is_under_film else float(leaching_load(readings["pH"].value, tables, request.climate))
    acid = acid_load(make_plan(request, tables), request, tables) + drained
    return hold_ph(acid, lime_a_year(readings, request.plot.watering_mm), year, tables)
