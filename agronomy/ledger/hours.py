"""About how long the work on the list takes: by the pace of what it is spread with, or by how much must be carried."""

from agronomy.base.record import record
from agronomy.products.equipment import Stretch, equipment_on
from agronomy.tables import Tables


@record
class Piece:
    """A piece of ground: "bed" or "field", the kind of ground, its size [m2]."""

    kind: str
    ground: str
    area_m2: float


def hours_for(material: str, kg: float, piece: Stretch, told: tuple[str, ...], tables: Tables) -> float:
    """Hours to put some kilos of a material on a piece of ground with the quickest of what is told to be there, or is usual there;
    weighing out and cleaning included. Source: own-experience.

    >>> from agronomy.intake.example import tables
    >>> round(hours_for("urea", 1.0, Piece("bed", "bed", 18.0), (), tables), 2), round(
    ...     hours_for("urea", 400.0, Piece("field", "field", 40_000.0), (), tables), 2
    ... )
    (0.29, 0.75)
    """
    row = tables.materials.get(material)
    form = row.form if row else "granules"
    tools = [tool for tool in equipment_on(piece, told, tables) if tool.ha_per_hour and form in tool.takes]
    tools = tools or [tables.spread.equipment["by_hand"]]
    pace = min(max(piece.area_m2 / 10_000 / tool.ha_per_hour, kg / tool.kg_per_hour) for tool in tools)
    return tables.spread.set_up_hours.value + pace
