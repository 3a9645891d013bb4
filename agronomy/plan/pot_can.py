"""Plants in pots that are fed in the can: a weak feed with the water in the growing months, and none at all as a full answer.

Source: nelson; the rows of growing/nitrogen_limits.csv and nitrogen_stages.csv.
"""

from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.base.said import Strength, Volume, joined, large, say
from agronomy.base.working import Figure, Step
from agronomy.dose.application import Application
from agronomy.dose.household import SCOOPS
from agronomy.dose.plain import plain_dose
from agronomy.ground.kinds import litres_of_mix
from agronomy.model.answers import Need
from agronomy.model.seasons import add_months
from agronomy.plan.assess import Assessment
from agronomy.tables import Tables
from agronomy.tables.material import Material

MONTHLY_FROM_DAYS = 28  # what comes every four weeks comes once a month
EVERY_WATERING_FROM = 15  # so many feedings a month are every watering
TEASPOON_ML = dict(SCOOPS["us"])["teaspoon"]
PLACEMENT = say("given in the can on moist mix, until a little runs through")


@record
class Can:
    """A feed in the can: nitrogen in it [mg/L], the product [g/L], what each feeding of all pots takes [L], and how that came about."""

    material: Material
    nitrogen_mg_per_l: float
    product_g_per_l: float
    litres: float
    steps: tuple[Step, ...]


def is_fed_in_the_can(crop: str, tables: Tables) -> bool:
    """Whether a crop's guide gives its nitrogen as a strength of the water, and no other way beside it. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> [key for key in ("cactus_pot", "patio_tub", "tomato") if is_fed_in_the_can(key, tables)]
    ['cactus_pot']
    """
    limits, growth = tables.growing.limits.get(crop), tables.growing.crops.get(crop)
    return limits is not None and growth is not None and limits.n_unit == "mg/L" and "surface" not in growth.place_standing


def feed_of(crop: str, tables: Tables) -> Material:
    """What goes in the can for a crop: its own row before the usual feed. Source: each row's own."""
    return tables.materials[tables.growing.limits[crop].fed_with or tables.products.standard["tank_feed"].material]


def can_of(crop: str, litres: float, tables: Tables) -> Can:
    """The can for a crop in so many litres of mix in all. Source: nelson.

    >>> from agronomy.intake.example import tables
    >>> made = can_of("cactus_pot", 20.0, tables)
    >>> made.material.key, made.nitrogen_mg_per_l, round(made.product_g_per_l, 2), made.litres
    ('tomato_feed_4_3_8', 45.0, 1.12, 2.0)
    """
    limits, figures = tables.growing.limits[crop], tables.nutrients
    material = feed_of(crop, tables)
    weak = max(limits.season_n_low, limits.season_n_high / 2)  # where none is a full answer, half the strongest is the least that feeds
    strength = (weak + limits.season_n_high) / 2
    grams = strength / 10 / material.n
    share = figures.can_share_of_pot
    steps = (
        Step(
            "strength of the feed",
            "(weakest that feeds + strongest) / 2",
            {
                "weakest that feeds": Figure(weak, "mg N/L", limits.source),
                "strongest": Figure(limits.season_n_high, "mg N/L", limits.source),
            },
            Figure(strength, "mg N/L"),
            limits.source,
            limits.where,
        ),
        Step(
            "product in the can",
            "strength / nitrogen in it / 10",
            {"strength": Figure(strength, "mg N/L"), "nitrogen in it": Figure(material.n, "%", material.source)},
            Figure(grams, "g/L"),
            "definition",
        ),
        Step(
            "each feeding",
            "litres of mix × share of the pot",
            {"litres of mix": Figure(litres, "L"), "share of the pot": Figure.of(share)},
            Figure(litres * share.value, "L"),
            share.source,
            share.where,
        ),
    )
    return Can(material, strength, grams, litres * share.value, steps)


def can_feed(found: Assessment, tables: Tables) -> tuple[list[Application], list[Need]]:
    """The season's feedings, those of a month told together. Source: nelson."""
    request = found.request
    litres = litres_of_mix(request.plot.area_m2, request.plot.depth_cm)
    can, limits = can_of(request.crop.key, litres, tables), tables.growing.limits[request.crop.key]
    months = _months(found, tables)
    says = joined(say("{told}.", told=large(told)) for told in (tables.stages_of[limits.uses][0].says, limits.says) if told)
    made = []
    for number, (start, end, count) in enumerate(months, 1):
        kg = can.product_g_per_l * can.litres * count / 1000
        how = _how(can, request.plot.pieces, count, system=request.units)
        made.append(
            plain_dose(
                can.material,
                "N",
                kg / request.plot.area_m2 * 10_000,
                area_m2=request.plot.area_m2,
                system=request.units,
                start=start,
                end=end,
                placement=PLACEMENT,
                depth_cm=request.plot.depth_cm,
                why=say("In pots a weak feed goes with the water; what dries out or rests gets none."),
                note=how if number > 1 else joined((how, says)),
                number=number,
                count=len(months),
                working=can.steps,
            )
        )
    season = sum(item.supplies.get("N", 0.0) for item in made)
    need = Need(
        what="N",
        rate_kg_per_ha=season,
        low_kg_per_ha=0.0 if limits.season_n_low == 0 else season * limits.season_n_low / can.nitrogen_mg_per_l,
        high_kg_per_ha=season * limits.season_n_high / can.nitrogen_mg_per_l,
        method=say("by the strength of the water"),
        why=say("Plants in pots are fed by the strength of what is in the can, not by the hectare."),
        working=can.steps,
    )
    return made, [need] if made else []


def _months(found: Assessment, tables: Tables) -> list[tuple[date, date, int]]:
    """First and last feeding of each month of the growing season, and how many there are."""
    feedings: list[date] = []
    rows = tables.stages_of[tables.growing.limits[found.request.crop.key].uses]
    for row in rows:
        window = found.calendar.season.window(row.anchor, int(row.from_day), int(row.to_day)).later_than(found.request.today)
        day = window.start
        while day <= window.end:
            feedings.append(day)
            day = add_months(day, 1) if (row.every_days or 0) >= MONTHLY_FROM_DAYS else day + timedelta(days=int(row.every_days or 14))
    months: dict[tuple[int, int], list[date]] = {}
    for day in feedings:
        months.setdefault((day.year, day.month), []).append(day)
    return [(days[0], max(days[-1], days[0] + timedelta(days=6)), len(days)) for days in months.values()]


def _how(can: Can, pots: float | None, count: int, *, system: str) -> str:
    """The can in words: the measure to a can, what each pot gets, and how often in the month."""
    mixed = Strength(can.product_g_per_l, can.material.density_g_per_ml, can.material.form == "liquid", system)
    whole = Volume(can.litres, False, system)
    each = (
        say("{portion} of it to each pot ({whole} for all)", portion=Volume(can.litres / pots, True, system), whole=whole)
        if pots
        else say("{whole} of it for all", whole=whole)
    )
    often = (
        ", with every watering" if count >= EVERY_WATERING_FROM else say(", {count} times in the month", count=count) if count > 1 else ""
    )
    return say("{mixed}; {each}{often}.", mixed=mixed, each=each, often=often)
