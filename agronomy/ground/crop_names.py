"""The crop that somebody means by a typed name, and the crops that a list begins with."""

from collections.abc import Iterable, Iterator, Mapping
from difflib import get_close_matches
from functools import lru_cache
from itertools import islice
from unicodedata import combining, normalize

from agronomy.base.errors import UnknownName
from agronomy.tables import Tables
from agronomy.tables.crop import Crop

MOST_SUGGESTED = 3
USUAL = ("mixed_vegetables", "rose", "apple")
KNOWN = ("crop names",)
ALIKE_FROM = 0.78  # how alike two names are before one is taken for a slip of the other: mooli is no muesli


def crop_named(typed: str, own: Mapping[str, str], tables: Tables, *, field: str = "crop") -> str:
    """The key of a crop by its name, another name of it, or the key itself; `own` are the grower's own crops, key to name.

    A name that several crops begin with, or none, raises UnknownName with the three that may be meant, or that are fed most like it.
    Source: crop_names.csv, crop_kin.csv.

    >>> from agronomy.intake.example import tables
    >>> crop_named("Corn", {}, tables), crop_named("tomatoes", {}, tables), crop_named("My tulips", {"own-3": "my tulips"}, tables)
    ('maize', 'tomato', 'own-3')
    """
    if typed in own or (typed in tables.crops and not own):
        return typed
    known = _known(tables) | {key: key for key in own} | {_plain(name): key for key, name in own.items()}
    told = _plain(typed)
    for name in (told, *_singular(told)):
        if name in known:
            return known[name]
    shown_as = {_plain(row.name) for row in tables.crops.values()}
    begun = {name for name in known if name.startswith(told) and (" " not in name[len(told) :] or name in shown_as)}
    keys = {known[name] for name in begun}
    if told and len(keys) == 1:  # the rest of a word: what more words would make of it may be another plant
        return keys.pop()
    names = {key: row.name for key, row in tables.crops.items()} | dict(own)
    near = list(islice(dict.fromkeys(_like(told, known, tables)), MOST_SUGGESTED))
    *most, last = (names[key] for key in near)
    shown = typed.strip()[:40]
    fed = f"{', '.join(most)} or {last}" if most else last
    raise UnknownName(field, shown, f"no crop here is called “{shown}”", f"which of these is it: {fed}?")


def crops_on_top(kind: str, grown: Iterable[str], tables: Tables) -> list[str]:
    """The keys that a list of crops begins with on a kind of ground: what is grown already, then what is asked for most.

    Source: common_crops.csv.

    >>> from agronomy.intake.example import tables
    >>> crops_on_top("field", ["hop"], tables)[:3]
    ['hop', 'winter_wheat', 'spring_barley']
    """
    on = {"field": "field", "zone": "field", "pasture": "field", "container": "container", "bale": "container"}.get(kind, "garden")
    return list(dict.fromkeys([*grown, *(row.crop for row in tables.growing.common_crops if row.on == on)]))


def _like(told: str, known: Mapping[str, str], tables: Tables) -> Iterator[str]:
    """Crops that may be meant, the likeliest first: kin of the plant, names that begin so, what one of several words names, slips of the
    pen, and at last what is fed most like the likeliest.
    """
    kin = {_plain(row.word): row.crops for row in tables.growing.crop_kin.values()}
    first: list[str] = []
    for name in (told, *_singular(told)):
        first += kin.get(name, ())
    first += sorted({key for name, key in known.items() if told and name.startswith(told)})
    words = told.split()
    for word in words if len(words) > 1 else ():
        for name in (word, *_singular(word)):
            first += (known[name],) if name in known else kin.get(name, ())
    first += (known[name] for name in get_close_matches(told, known, MOST_SUGGESTED, ALIKE_FROM))
    yield from first or USUAL
    row = tables.crops.get(first[0] if first else USUAL[0])
    if row is not None:
        yield from sorted(tables.crops, key=lambda key: _unlike(row, tables.crops[key]))


def _unlike(one: Crop, other: Crop) -> tuple[bool, bool, float]:
    """How differently two crops are fed."""
    apart = abs(one.ph_lime_to - other.ph_lime_to) * 50 + abs(one.k2o_r0 - other.k2o_r0) + abs(one.n_high - other.n_high)
    return one.group != other.group, one.nutrient_group != other.nutrient_group, apart


def _known(tables: Tables) -> dict[str, str]:
    """Every name that is a crop's, and what it stands for; kept by the tables, for there are thousands."""
    if KNOWN in tables.kept:
        return tables.kept[KNOWN]
    known = {_plain(key): key for key in tables.crops} | {key: key for key in tables.crops}
    known |= {_plain(row.word): row.crop for row in tables.growing.crop_names.values()}
    return tables.kept.setdefault(KNOWN, known | {_plain(row.name): key for key, row in tables.crops.items()})


@lru_cache(maxsize=8192)
def _plain(name: str) -> str:
    """A name without capitals, accents and doubled spaces."""
    parted = normalize("NFD", " ".join(name.casefold().split()))
    return "".join(sign for sign in parted if not combining(sign))


def _singular(told: str) -> list[str]:
    """A plural's likely singulars, and a singular's likely plural: beans stand in the plural, tomatoes don't."""
    cut = [told[: -len(end)] + put for end, put in (("ies", "y"), ("oes", "o"), ("es", ""), ("s", "")) if told.endswith(end)]
    return [*cut, f"{told}s"]
