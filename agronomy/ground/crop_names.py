"""The crop that somebody means by a typed name, and the crops that a list begins with."""

from collections.abc import Iterable, Mapping
from difflib import get_close_matches

from agronomy.base.errors import UnknownName
from agronomy.tables import Tables

MOST_SUGGESTED = 4
ALIKE_FROM = 0.6  # how alike two names are before one is suggested for the other: difflib's usual


def crop_named(typed: str, own: Mapping[str, str], tables: Tables) -> str:
    """The key of a crop by its name, another name of it, or the key itself; `own` are the grower's own crops, key to name.

    A name that several crops begin with, or none, raises UnknownName with what may be meant. Source: crop_names.csv.

    >>> from agronomy.intake.example import tables
    >>> crop_named("Corn", {}, tables), crop_named("tomatoes", {}, tables), crop_named("My tulips", {"own-3": "my tulips"}, tables)
    ('maize', 'tomato', 'own-3')
    """
    known = _known(own, tables)
    told = " ".join(typed.casefold().split())
    for name in (told, *_singular(told)):
        if name in known:
            return known[name]
    begins = sorted({key for name, key in known.items() if name.startswith(told)})
    if len(begins) == 1:
        return begins[0]
    names = {key: row.name for key, row in tables.crops.items()} | dict(own)
    row = next((tables.growing.crop_names[name] for name in (told, *_singular(told)) if name in tables.growing.crop_names), None)
    near = [row.crop] if row else begins or [known[name] for name in get_close_matches(told, known, MOST_SUGGESTED, ALIKE_FROM)]
    shown = typed.strip()[:40]
    if row:
        mend = f"the nearest here is {names[row.crop]}; take that, or make a crop of your own from it"
    elif near:
        mend = f"perhaps {' or '.join(dict.fromkeys(names[key] for key in near[:MOST_SUGGESTED]))}"
    else:
        mend = "type its first letters and choose from the list, or take the crop that is nearest to it"
    raise UnknownName("crop", shown, f"no crop here is called “{shown}”", mend)


def crops_on_top(kind: str, grown: Iterable[str], tables: Tables) -> list[str]:
    """The keys that a list of crops begins with on a kind of ground: what is grown already, then what is asked for most.

    Source: common_crops.csv.

    >>> from agronomy.intake.example import tables
    >>> crops_on_top("field", ["hop"], tables)[:3]
    ['hop', 'winter_wheat', 'spring_barley']
    """
    on = {"field": "field", "zone": "field", "pasture": "field", "container": "container", "bale": "container"}.get(kind, "garden")
    return list(dict.fromkeys([*grown, *(row.crop for row in tables.growing.common_crops if row.on == on)]))


def _known(own: Mapping[str, str], tables: Tables) -> dict[str, str]:
    """Every name that is a crop's, and what it stands for; the grower's own go first."""
    known = {key: key for key in tables.crops}
    known |= {row.word: row.crop for row in tables.growing.crop_names.values() if not row.nearest}
    known |= {row.name.casefold(): key for key, row in tables.crops.items()}
    return known | {key: key for key in own} | {name.casefold(): key for key, name in own.items()}


def _singular(told: str) -> list[str]:
    """A plural's likely singulars, and a singular's likely plural: beans stand in the plural, tomatoes don't."""
    cut = [told[: -len(end)] + put for end, put in (("ies", "y"), ("oes", "o"), ("es", ""), ("s", "")) if told.endswith(end)]
    return [*cut, f"{told}s"]
