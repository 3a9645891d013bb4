"""Units that stand beside the numbers of some results and are left out beside others of the same thing: told once, they hold for all."""

from collections import defaultdict
from dataclasses import replace

from agronomy.labfile.cells import read_cell
from agronomy.labfile.columns import Column, Layout
from agronomy.labfile.sheets import Sheet
from agronomy.labfile.words import Lexicon, unit_in

LOOKED_AT = 2000  # rows


def with_units_of_cells(layout: Layout, sheet: Sheet, lexicon: Lexicon) -> Layout:
    """The layout with the unit that a thing's own results tell, where they tell no two. Source: definition."""
    if layout.kind == "long":
        return replace(layout, unit_of=_units_by_name(layout, sheet, lexicon))
    told = tuple(
        replace(column, unit=unit) if column.analyte and column.unit is None and (unit := _told(column, layout, sheet, lexicon)) else column
        for column in layout.columns
    )
    return replace(layout, columns=told)


def _told(column: Column, layout: Layout, sheet: Sheet, lexicon: Lexicon) -> str:
    if layout.kind == "across":
        row = sheet.rows[column.place]
        cells = [row[place] for place in layout.sample_at if place < len(row)]
    else:
        below = sheet.rows[layout.first_row : layout.first_row + LOOKED_AT]
        cells = [row[column.place] for row in below if column.place < len(row)]
    return _one(cells, lexicon)


def _units_by_name(layout: Layout, sheet: Sheet, lexicon: Lexicon) -> dict[str, str]:
    cells: defaultdict[str, list[str]] = defaultdict(list)
    name_at, value_at, unit_at = layout.analyte_at, layout.value_at, layout.unit_at
    if name_at is None or value_at is None:
        return {}
    for row in sheet.rows[layout.first_row : layout.first_row + LOOKED_AT]:
        if len(row) <= max(name_at, value_at) or not row[name_at]:
            continue
        own = unit_in(row[unit_at]) if unit_at is not None and unit_at < len(row) and row[unit_at] else None
        cells[row[name_at]].append(f"0 {own}" if own else row[value_at])
    return {name: unit for name, told in cells.items() if (unit := _one(told, lexicon))}


def _one(cells: list[str], lexicon: Lexicon) -> str:
    """The only unit that cells tell; nothing where they tell none or two."""
    read = (read_cell(cell, lexicon, None) for cell in cells if cell)
    found = {item.unit for item in read if item.unit and item.typed is not None}
    return found.pop() if len(found) == 1 else ""
