"""The exchange capacity as a trough filled by its cations, each with the range that one school aims at marked below it."""

from dataclasses import dataclass

from agronomy.interpret.balance import Share
from web.drawing.rake import at

LEFT, WIDTH = 8.0, 704.0
PATTERNS = {"Ca": "plain", "Mg": "dots", "K": "lines", "Na": "cross"}


@dataclass(frozen=True, slots=True)
class Part:
    """A cation's part of the trough."""

    x: str
    width: str
    kind: str
    label: str
    label_x: str
    says: str


@dataclass(frozen=True, slots=True)
class Trough:
    """The drawing; `rest` is what other ions fill, mostly acidity."""

    parts: tuple[Part, ...]
    rest_x: str
    rest_width: str
    rest: str
    says: str


def trough(shares: tuple[Share, ...]) -> Trough | None:
    """The trough for some shares; None where the exchange capacity is not known. Shares above 100 % in all are drawn to scale."""
    if not shares:
        return None
    total = sum(share.pct for share in shares)
    scale = WIDTH / max(100.0, total)
    x, parts = LEFT, []
    for share in shares:
        width = share.pct * scale
        side = "below" if share.pct < share.low else "above" if share.pct > share.high else "within"
        says = f"{share.name} {share.pct:.1f} %, {side} {share.low:g} to {share.high:g} %"
        parts.append(Part(at(x), at(max(width, 1.5)), PATTERNS[share.cation], share.cation if width > 24 else "", at(x + width / 2), says))
        x += width
    rest = max(0.0, 100 - total)
    told = f"{rest:.0f} % other ions, mostly acidity" if rest else "more than the capacity: free lime or salt dissolves in the extract"
    return Trough(tuple(parts), at(x), at(rest * scale), told, "; ".join([*(part.says for part in parts), told]))
