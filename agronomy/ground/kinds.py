"""How much ground (or mix) a plot of any kind has to be treated, from the few sizes that its kind asks for."""

from math import pi

from agronomy.base.errors import OutOfRange, UnknownName, check_range
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import positive_quantity
from agronomy.base.record import record
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables
from agronomy.tables.rooms.ground import GroundKind

# For each way of sizing: the sizes it asks for, with kind of quantity, lowest and highest value in base units, and whether it may be left
# out.
SIZES: dict[str, dict[str, tuple[str, float, float, bool]]] = {
    "area": {"area": ("area", 0.05, 1e8, True)},
    "rows": {"rows": ("count", 1, 5000, True), "row_length": ("length", 20, 2e6, True), "row_width": ("length", 5, 2000, True)},
    "trees": {"count": ("count", 1, 100_000, True), "canopy": ("length", 20, 4000, True), "old": ("flag", 0, 1, False)},
    "ring": {"count": ("count", 1, 500, False), "canopy": ("length", 20, 4000, True), "old": ("flag", 0, 1, False)},
    "volume": {"count": ("count", 1, 100_000, True), "volume": ("volume", 0.05, 100_000, True), "nominal": ("flag", 0, 1, False)},
    "bales": {
        "count": ("count", 1, 5000, True),
        "bale_length": ("length", 20, 300, True),
        "bale_width": ("length", 20, 150, True),
        "bale_height": ("length", 20, 150, True),
    },
}
NAMES = {
    "area": "area",
    "rows": "number of rows",
    "row_length": "length of a row",
    "row_width": "from row to row",
    "count": "how many",
    "canopy": "width of the crown",
    "old": "old trees",
    "volume": "volume of one",
    "nominal": "volume as sold",
    "bale_length": "length of a bale",
    "bale_width": "width of a bale",
    "bale_height": "height of a bale",
}


@record
class Treated:
    """What is treated: area [m2] always, volume [L] and length of row [m] where the kind has one, and how it came about."""

    area_m2: float
    volume_l: float | None
    row_m: float | None
    steps: tuple[Step, ...]


def kind_row(kind: str, tables: Tables) -> GroundKind:
    """The kind's row in kinds.csv; raises UnknownName. Source: each row's own.

    >>> from agronomy.tables import load_tables
    >>> round(kind_row("bed", load_tables()).usual_depth_cm, 2)
    15.0
    """
    if kind in tables.ground.kinds:
        return tables.ground.kinds[kind]
    raise UnknownName(
        "plot.kind", kind[:40], f"“{kind[:40]}” is not in our list of kinds of ground", f"use one of {', '.join(tables.ground.kinds)}"
    )


def root_ring_m2(canopy_cm: float, *, old: bool, tables: Tables) -> tuple[float, float, float]:
    """Ring over the feeding roots: area [m2], inner and outer radius [m]. Source: tree-ring (unsure).

    The ring begins at 0.3 m or a quarter of the crown's radius, whichever is more, and ends at the drip line, or at 1.5 times
    that for old trees. A crown too narrow for a ring counts as a full circle.

    >>> from agronomy.tables import load_tables
    >>> [round(part, 2) for part in root_ring_m2(800.0, old=True, tables=load_tables())]
    [109.96, 1.0, 6.0]
    """
    figures, radius = tables.ground, canopy_cm / 200
    inner = max(figures.ring_inner_m.value, figures.ring_inner_share.value * radius)
    outer = radius * (figures.ring_outer_old.value if old else 1.0)
    if inner >= outer:
        inner = 0.0
    return pi * (outer**2 - inner**2), inner, outer


def litres_of_mix(area_m2: float, depth_cm: float) -> float:
    """The mix [L] that pots hold, from the ground [m2] and depth [cm] that they count as. Source: definition.

    >>> litres_of_mix(0.08, 25.0)
    20.0
    """
    return area_m2 * depth_cm * 10


def treated(kind: str, sizes: dict, *, depth_cm: float, tables: Tables, us: bool = False) -> Treated:
    """What of a plot is treated, from typed sizes (numbers in m2, cm, litres, or texts with a unit; in US units where `us`).

    Raises UnknownName for a kind, OutOfRange or NotANumber for a size. Source: section of the kind in kinds.csv.

    >>> from agronomy.tables import load_tables
    >>> round(treated("tree", {"canopy": "2 m"}, tables=load_tables(), depth_cm=20).area_m2, 2)
    2.86
    """
    row = kind_row(kind, tables)
    asked = SIZES[row.sized_by]
    for name in sizes:
        if name not in asked:
            raise UnknownName(f"plot.sizes.{name}", str(sizes[name])[:40], f"a {row.name} has no {name}", f"give {', '.join(asked)}")
    read = {name: _size(name, sizes.get(name), rule, us) for name, rule in asked.items()}
    made = _RULES[row.sized_by](read, depth_cm, tables)
    check_range("plot.area", made.area_m2, low=0.001, high=1e8, unit="m2", mend="check the sizes and their units")
    return made


_US_UNITS = {"area": "ft2", "length": "in", "volume": "gal"}
_LENGTHS_IN_ROWS = {"row_length"}


def _size(name: str, typed, rule, us: bool):
    kind, low, high, wanted = rule
    field = f"plot.sizes.{name}"
    if typed in (None, ""):
        if wanted:
            raise OutOfRange(field, None, f"the {NAMES[name]} is missing", "measure or pace it, and type it with its unit")
        return 0.0 if kind == "flag" else low
    if kind == "flag":
        return 1.0 if typed in (True, "yes", "on", 1) else 0.0
    if kind == "count":
        return float(round(check_range(field, parse_number(typed, field), low=low, high=high, mend="type a whole number")))
    unit = ("ft" if us else "m") if name in _LENGTHS_IN_ROWS else _US_UNITS[kind] if us else None
    return positive_quantity(typed, kind, field, low=low, high=high, unit=unit)


def _by_area(read: dict, depth_cm: float, tables: Tables) -> Treated:
    return Treated(read["area"], None, None, ())


def _by_rows(read: dict, depth_cm: float, tables: Tables) -> Treated:
    length_m = read["rows"] * read["row_length"] / 100
    area = length_m * read["row_width"] / 100
    inputs = {
        "rows": Figure(read["rows"]),
        "length of a row": Figure(read["row_length"], "cm"),
        "row to row": Figure(read["row_width"], "cm"),
    }
    return Treated(
        area,
        None,
        length_m,
        (Step("treated area", "rows × length of a row × row to row / 10 000", inputs, Figure(area, "m2"), "definition"),),
    )


def _by_ring(read: dict, depth_cm: float, tables: Tables) -> Treated:
    ring, inner, outer = root_ring_m2(read["canopy"], old=bool(read["old"]), tables=tables)
    inputs = {"how many": Figure(read["count"]), "outer radius": Figure(outer * 100, "cm"), "inner radius": Figure(inner * 100, "cm")}
    area = read["count"] * ring
    return Treated(
        area,
        None,
        None,
        (Step("root circle", "how many × π × (outer radius² − inner radius²) / 10 000", inputs, Figure(area, "m2"), "tree-ring"),),
    )


def _by_volume(read: dict, depth_cm: float, tables: Tables) -> Treated:
    share = tables.ground.container_fill.value if read["nominal"] else 1.0
    volume = read["count"] * read["volume"] * share
    area = volume / 1000 / (depth_cm / 100)
    inputs = {
        "how many": Figure(read["count"]),
        "volume of one": Figure(read["volume"], "L"),
        "filled": Figure(share),
        "depth": Figure(depth_cm, "cm"),
    }
    step = Step(
        "layer that the mix would make", "how many × volume of one × filled / depth / 10", inputs, Figure(area, "m2"), "container-volume"
    )
    return Treated(area, volume, None, (step,))


def _by_bales(read: dict, depth_cm: float, tables: Tables) -> Treated:
    top = read["count"] * read["bale_length"] * read["bale_width"] / 1e4
    volume = top * read["bale_height"] * 10
    inputs = {"bales": Figure(read["count"]), "length": Figure(read["bale_length"], "cm"), "width": Figure(read["bale_width"], "cm")}
    return Treated(
        top,
        volume,
        read["count"] * read["bale_length"] / 100,
        (Step("top of the bales", "bales × length × width / 10 000", inputs, Figure(top, "m2"), "definition"),),
    )


_RULES = {"area": _by_area, "rows": _by_rows, "trees": _by_ring, "ring": _by_ring, "volume": _by_volume, "bales": _by_bales}
