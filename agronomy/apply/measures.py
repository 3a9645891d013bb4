"""A dose as a person measures it out: by the square metre, the metre of row, the stride, the plant, the ring, the pot, the bale."""

from math import floor, log10

from agronomy.base.errors import OutOfRange
from agronomy.base.record import record
from agronomy.dose.household import SCOOPS, say_scoops
from agronomy.tables import Tables
from agronomy.tables.material import Material

# The finest step that a common scale shows, by what it weighs [g]: letter scale, kitchen scale, hanging scale.
STEPS = ((20.0, 0.1), (200.0, 1.0), (5000.0, 5.0), (50_000.0, 100.0), (float("inf"), 1000.0))


@record(kw_only=True)
class Portion:
    """One way of measuring out a dose: for one of what, how much [g], rounded to what a scale shows [g], and the error of that rounding
    [%].

    `spoons` says the same by level household measures, `spoon_error_pct` how wrong those are. `stretch` where a portion is too small to
    weigh.
    """

    of: str
    count: float
    grams: float
    rounded_g: float
    error_pct: float
    spoons: str | None
    spoon_error_pct: float | None
    stretch: bool


@record(kw_only=True)
class Geometry:
    """How a plot is laid out; None where it has no such thing. Lengths in m, volume of one pot in litres."""

    area_m2: float
    row_spacing_m: float | None = None
    plant_spacing_m: float | None = None
    stride_m: float | None = None
    plants: float | None = None
    pots: float | None = None
    pot_l: float | None = None
    bales: float | None = None
    rings: float | None = None


def rounded(grams: float) -> float:
    """Grams as a common scale can show them, and never so coarse that more than a tenth is lost. Source: own-experience.

    >>> rounded(3.27), rounded(47.3), rounded(1234.0)
    (3.3, 47.0, 1235.0)
    """
    if grams <= 0:
        return 0.0
    step = next(step for most, step in STEPS if grams < most)
    while step > 0.2 * grams:
        step = 10 ** floor(log10(0.1 * grams))
    return round(round(grams / step) * step, 12)


def counts(geometry: Geometry) -> dict[str, float]:
    """How many of each there are on the plot: square metres, metres of row, strides along a row, plants, rings, pots, litres of mix,
    bales. Source: definition.
    Areas in m2, rows in m, else numbers.

    >>> counts(Geometry(area_m2=20, plants=40))
    {'square metre': 20, 'plant or planting hole': 40}
    """
    found = {} if geometry.pots else {"square metre": geometry.area_m2}
    rows_m = geometry.area_m2 / geometry.row_spacing_m if geometry.row_spacing_m else None
    if rows_m:
        found["metre of row"] = rows_m
        if geometry.stride_m:
            found["stride along the row"] = rows_m / geometry.stride_m
    plants = geometry.plants or (rows_m / geometry.plant_spacing_m if rows_m and geometry.plant_spacing_m else None)
    for name, count in (
        ("plant or planting hole", plants),
        ("tree or root ring", geometry.rings),
        ("pot", geometry.pots),
        ("bale", geometry.bales),
    ):
        if count:
            found[name] = count
    if geometry.pots and geometry.pot_l:
        found["litre of mix"] = geometry.pots * geometry.pot_l
    return found


def portions(total_kg: float, geometry: Geometry, material: Material, tables: Tables, *, system: str = "metric") -> list[Portion]:
    """A dose for the whole plot [kg] measured out in every way its layout allows.

    Boron is never told by the plant or by the spoon: see micro-rates. Raises OutOfRange for a dose below zero. Source: household-
    measures.

    >>> from agronomy.intake.example import tables
    >>> portions(1.0, Geometry(area_m2=20, plants=40), tables.materials["urea"], tables)[0].of
    'square metre'
    """
    if total_kg < 0:
        raise OutOfRange("total", total_kg, "a dose cannot be below zero", "check the dose")
    is_boron = material.has_role("B")
    found = []
    for of, count in counts(geometry).items():
        if is_boron and of not in ("square metre", "litre of mix"):
            continue
        grams = total_kg * 1000 / count
        near = rounded(grams)
        spoons = None if is_boron or not material.spoons else say_scoops(grams / material.density_g_per_ml, system)
        spoon_error = _spoon_error(grams, material, system, tables) if spoons else None
        stretch = grams < tables.spread.least_portion_g.value
        found.append(
            Portion(
                of=of,
                count=count,
                grams=grams,
                rounded_g=near,
                error_pct=100 * (near - grams) / grams if grams else 0.0,
                spoons=spoons,
                spoon_error_pct=spoon_error,
                stretch=stretch,
            )
        )
    return found


def _spoon_error(grams: float, material: Material, system: str, tables: Tables) -> float:
    """How wrong [%] a level spoon is: its own filling, and rounding to quarters, whichever is more."""
    is_powder = material.form == "powder"
    filling = (tables.spread.spoon_error_powder if is_powder else tables.spread.spoon_error_grains).value
    volume = grams / material.density_g_per_ml
    size = next((size for _, size in SCOOPS["us" if system == "us" else "metric"] if volume >= size), SCOOPS["metric"][-1][1])
    quarter = 100 * 0.125 * size / volume if volume < 3 * size else 0.0
    return max(filling, quarter)
