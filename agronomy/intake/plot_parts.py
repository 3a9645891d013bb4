"""Parts of a plot as a request tells them: how large, how many pieces, of which ground or mix, how much watered."""

from agronomy.base.errors import NotANumber, RuleError, UnknownName
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import positive_quantity
from agronomy.ground.kinds import treated
from agronomy.intake.request_doc import PlotDoc
from agronomy.model.soil import texture_class, texture_name
from agronomy.tables import Tables


def season_of_water(typed: str | float, *, us: bool) -> float:
    """The water given in a season [mm]; a bare number counts as mm, or inches. Raises RuleError. Source: definition.

    >>> season_of_water("300 mm", us=False)
    300.0
    """
    return positive_quantity(typed, "length", "plot.watering_a_season", low=0, high=300, unit="in" if us else "mm") * 10


def area_of(doc: PlotDoc, depth_cm: float, tables: Tables, *, us: bool) -> float:
    """The area [m2], as told or by the sizes of what stands there. Raises RuleError. Source: definition."""
    if doc.area is None:
        return treated(doc.kind, doc.sizes or {}, depth_cm=depth_cm, tables=tables, us=us).area_m2
    return positive_quantity(doc.area, "area", "plot.area", low=0.01, high=1e8, unit="ft2" if us else None)


def pieces_of(doc: PlotDoc) -> float | None:
    """How many trees, pots or bales a plot is, as far as it is told; what can't be read is told by its area already. Source: definition."""
    typed = (doc.sizes or {}).get("count")
    try:
        return parse_number(typed, "plot.sizes.count") if typed not in (None, "") else None
    except RuleError:
        return None


def mix_of(doc: PlotDoc, tables: Tables) -> str | None:
    """The potting mix of a container; ground of other kinds has none. Raises UnknownName. Source: definition."""
    if not doc.mix or doc.kind != "container":
        return None
    if doc.mix not in tables.ground.mixes:
        known = f"use one of {', '.join(tables.ground.mixes)}"
        raise UnknownName("plot.mix", doc.mix[:40], f"“{doc.mix[:40]}” is not in our list of mixes", known)
    return doc.mix


def texture_of(doc: PlotDoc, tables: Tables) -> tuple[str | None, float | None]:
    """The texture by name, or by sand, silt and clay with the clay [%]. Raises RuleError. Source: usda-survey-manual."""
    sand, silt, clay = doc.sand_pct, doc.silt_pct, doc.clay_pct
    if any(share is not None for share in (sand, silt, clay)):
        if sand is None or silt is None or clay is None:
            raise NotANumber("plot.sand_pct", None, "sand, silt and clay are wanted together", "give all three, or the texture's name")
        code = texture_class(sand, silt, clay)
        return next(name for name, row in tables.textures.items() if row.code == code), clay
    return (texture_name(doc.texture, tables), None) if doc.texture else (None, None)
