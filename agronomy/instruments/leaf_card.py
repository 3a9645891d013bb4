"""Leaves held to a colour card: any card by its levels, several leaves averaged, and what the card says of them."""

from itertools import pairwise
from math import sqrt

from agronomy.base.errors import RuleError, UnknownName, check_range
from agronomy.base.record import record
from agronomy.tables import Tables
from agronomy.tables.rooms.documents import LeafCard

FEWEST_LEAVES, MOST_LEAVES = 1, 60


@record
class Level:
    """A panel of a card: its number, colour and meaning."""

    level: float
    fill: str
    says: str


@record(kw_only=True)
class Card:
    """A leaf colour card: its panels from pale to dark, the threshold below which it asks for nitrogen, and for whom."""

    key: str
    name: str
    crops: tuple[str, ...]
    position: str
    threshold: float
    share_below: float
    levels: tuple[Level, ...]
    source: str
    where: str
    status: str


@record(kw_only=True)
class LeavesSay:
    """Several leaves on one card: mean, spread, how many lie below the threshold, and the sentence."""

    count: int
    mean: float
    spread: float
    below: int
    asks: bool
    text: str

    @property
    def error(self) -> float | None:
        """Standard error of the mean [panels]; None for a single leaf."""
        return round(self.spread / sqrt(self.count), 4) if self.count > 1 else None


def card(key: str, tables: Tables) -> Card:
    """A card of the table by its key; raises UnknownName. Source: leaf-card-guide.

    >>> from agronomy.tables import load_tables
    >>> round(card("paddy_four", load_tables()).threshold, 2)
    3.5
    """
    if key not in tables.leaf_cards:
        raise UnknownName("card", key[:40], f"“{key[:40]}” is not in our list of cards", f"use one of {', '.join(tables.leaf_cards)}")
    return card_from_document(key, tables.leaf_cards[key])


def card_from_document(key: str, document: LeafCard) -> Card:
    """A Card from its document; raises RuleError where levels are missing or out of order."""
    levels = tuple(Level(row.level, row.fill, row.says) for row in document.level)
    if len(levels) < 2 or any(first.level >= second.level for first, second in pairwise(levels)):
        raise RuleError("card.level", key, "a card needs two panels or more, from pale to dark", "number them upwards")
    return Card(
        key=key,
        name=document.name,
        crops=document.crops,
        position=document.position,
        threshold=document.threshold,
        share_below=document.share_below,
        levels=levels,
        source=document.source,
        where=document.where,
        status=document.status,
    )


def judge_leaves(readings: list[float], of: Card) -> LeavesSay:
    """What several leaves say: the card asks when enough of them (as a rule six in ten) lie below its threshold. Source: that of the card.

    Raises OutOfRange for a panel that the card lacks, RuleError for no leaves or too many. Half panels are allowed.
    """
    if not FEWEST_LEAVES <= len(readings) <= MOST_LEAVES:
        raise RuleError("leaves", len(readings), f"{len(readings)} leaves", f"read {FEWEST_LEAVES} to {MOST_LEAVES}, ten as a rule")
    for place, value in enumerate(readings):
        check_range(
            f"leaves.{place}",
            value,
            low=of.levels[0].level,
            high=of.levels[-1].level,
            mend=f"{of.name} goes from {of.levels[0].level:g} to {of.levels[-1].level:g}",
        )
    mean = sum(readings) / len(readings)
    spread = sqrt(sum((value - mean) ** 2 for value in readings) / (len(readings) - 1)) if len(readings) > 1 else 0.0
    below = sum(value < of.threshold for value in readings)
    asks = below >= of.share_below * len(readings)
    few = " Read ten leaves before you act on it." if len(readings) < 10 else ""
    text = (
        f"{below} of {len(readings)} leaves are paler than panel {of.threshold:g}: "
        + ("the crop needs nitrogen." if asks else "no nitrogen now.")
        + few
    )
    return LeavesSay(count=len(readings), mean=round(mean, 2), spread=round(spread, 2), below=below, asks=asks, text=text)
