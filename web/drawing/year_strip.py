"""The year strip: twelve months with what is due on them, as shapes."""

from dataclasses import dataclass
from datetime import date

from agronomy.model.seasons import add_months
from web.date_format import said
from web.drawing.rake import at

WIDTH, HEAD, ROW = 1200.0, 24.0, 30.0
LETTER, PADDING = 8.6, 16.0


@dataclass(frozen=True, slots=True)
class Event:
    """Something on a day or over some days."""

    label: str
    start: date
    end: date
    kind: str


@dataclass(frozen=True, slots=True)
class Block:
    """An event as a box with its label."""

    x: str
    y: str
    width: str
    label: str
    kind: str


@dataclass(frozen=True, slots=True)
class Strip:
    """Months with their left edges, and the boxes in as few rows as they need."""

    width: str
    height: str
    months: tuple[tuple[str, str], ...]
    today_x: str
    blocks: tuple[Block, ...]
    says: str


def year_strip(events: list[Event], today: date) -> Strip:
    """Twelve months from the present one; what lies beyond is left to the words."""
    first = today.replace(day=1)
    last = add_months(first, 12)
    span = (last - first).days

    def place(day: date) -> float:
        return round((day - first).days / span * WIDTH, 1)

    seen = sorted((event for event in events if event.end >= first and event.start < last), key=lambda event: (event.start, event.label))
    row_ends: list[float] = []
    blocks = []
    for event in seen:
        x = place(max(event.start, first))
        width = max(place(min(event.end, last)) - x, len(event.label) * LETTER + PADDING)
        x = max(0.0, min(x, WIDTH - width))
        row = next((number for number, end in enumerate(row_ends) if end + 4 <= x), len(row_ends))
        row_ends[row : row + 1] = [x + width]
        blocks.append(Block(at(x), at(HEAD + 4 + row * ROW), at(width), event.label, event.kind))
    months = tuple((f"{add_months(first, number):%b}", at(place(add_months(first, number)))) for number in range(12))
    says = "; ".join(
        f"{event.label}: {said(event.start, 'j M')} to {said(event.end, 'j M Y')}"
        if event.start != event.end
        else f"{event.label}: {said(event.start, 'j M Y')}"
        for event in seen
    )
    return Strip(at(WIDTH), at(HEAD + 8 + ROW * max(1, len(row_ends))), months, at(place(today)), tuple(blocks), says)
