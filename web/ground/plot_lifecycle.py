"""What becomes of a plot's fields, and of what hangs on it, when it is cut, merged into another, or taken out of use.

A field or a relation without a line here turns the suite red, so that a new one is never forgotten.
"""

from typing import NamedTuple

from agronomy.model.ground_facts import FACTS


class FieldFate(NamedTuple):
    """For a field: what a new part of a cut plot gets, and what the plot that others were merged into has after it.

    cut: "copied" from the whole, "measured" by the new shape, "made" anew. merge: "kept" as the first plot has it, "measured" by the new
    shape.
    """

    cut: str
    merge: str


class RelatedFate(NamedTuple):
    """For what hangs on a plot. In all cases the plot that is cut keeps its own.

    cut: "copied" to each new part, or "stays" with the whole. merge: "moves" to the plot that stays, or "stays" on the retired one.
    retire: "stays" readable on the retired plot, "ends" where it was still to come, or "leaves" it.
    """

    cut: str
    merge: str
    retire: str


COPIED, MEASURED, MADE, KEPT = "copied", "measured", "made", "kept"
MOVES, STAYS, ENDS, LEAVES = "moves", "stays", "ends", "leaves"

FIELDS = {
    "id": FieldFate(MADE, KEPT),
    "holding": FieldFate(COPIED, KEPT),
    "parent": FieldFate(MADE, KEPT),
    "name": FieldFate(MADE, KEPT),
    "kind": FieldFate(MADE, KEPT),
    **dict.fromkeys(("area_m2", "volume_l", "row_m", "shape", "west", "south", "east", "north", "sizes"), FieldFate(MEASURED, MEASURED)),
    **dict.fromkeys(("depth_cm", "texture", "sand_pct", "clay_pct", "mix", "dug", "free_lime"), FieldFate(COPIED, KEPT)),
    **dict.fromkeys(("livestock", "cover", *FACTS), FieldFate(COPIED, KEPT)),
    **dict.fromkeys(("watering", "watering_mm", "water", "own_buffering", "own_pools"), FieldFate(COPIED, KEPT)),
    **dict.fromkeys(("new_ground_since", "new_ground_done", "signs", "note"), FieldFate(COPIED, KEPT)),
    **dict.fromkeys(("school", "aim", "most_bags", "lost_times", "wanted", "without", "uncounted"), FieldFate(COPIED, KEPT)),
    **dict.fromkeys(("retired_on", "retired_as", "became"), FieldFate(MADE, KEPT)),
}
RELATED = {
    "plantings": RelatedFate(COPIED, STAYS, STAYS),
    "gifts": RelatedFate(COPIED, MOVES, STAYS),
    "slips": RelatedFate(STAYS, MOVES, STAYS),
    "samples": RelatedFate(STAYS, MOVES, STAYS),
    "probes": RelatedFate(STAYS, MOVES, LEAVES),
    "kit_runs": RelatedFate(STAYS, STAYS, STAYS),
    "meter_sessions": RelatedFate(STAYS, STAYS, STAYS),
    "adopted_plans": RelatedFate(STAYS, STAYS, STAYS),
    "proposals": RelatedFate(STAYS, STAYS, STAYS),
    "log": RelatedFate(STAYS, STAYS, STAYS),
    "sightings": RelatedFate(STAYS, STAYS, STAYS),
    "trials": RelatedFate(STAYS, STAYS, STAYS),
    "jobs": RelatedFate(STAYS, MOVES, ENDS),  # what is done stays; only what is still open moves or ends
    "summary": RelatedFate(STAYS, STAYS, STAYS),
    "zones": RelatedFate(STAYS, STAYS, ENDS),
    "earlier": RelatedFate(STAYS, STAYS, STAYS),
}


def fields_with(cut: str) -> tuple[str, ...]:
    """The fields whose fate at a cut is this."""
    return tuple(name for name, fate in FIELDS.items() if fate.cut == cut)
