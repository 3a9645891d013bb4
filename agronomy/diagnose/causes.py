"""Causes ranked by what was seen and what was read: log-odds with the weights of the tables in `watch/`."""

from collections.abc import Iterable, Mapping
from math import exp, log

from agronomy.base.errors import UnknownName
from agronomy.base.record import record
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.watch import CropSign

NARROW = ("cereal", "onion", "asparagus")
# Readings that are the same fact as a feature of the ground: the feature is then not counted once more.
SAME_FACT = {
    "pH water": ({"below 5.0": "gr_ph_low", "5.0 to 5.3": "gr_ph_low", "above 7.3": "gr_ph_high"}, ("gr_ph_low", "gr_ph_high")),
    "EC": ({"above the crop's threshold": "gr_ec_high"}, ("gr_ec_high",)),
    "soil K": ({"high": "gr_k_heavy", "very high": "gr_k_heavy"}, ("gr_k_heavy",)),
    "soil P": ({"high": "gr_p_heavy", "very high": "gr_p_heavy"}, ("gr_p_heavy",)),
}
Reading = tuple[str, str]  # a kind of evidence and its level, as `watch/evidence.csv` names them


@record
class Case:
    """What is known of an ailing plant: the crop, features seen and not seen, readings by kind and level."""

    crop: Crop | None
    yes: tuple[str, ...] = ()
    no: tuple[str, ...] = ()
    readings: tuple[Reading, ...] = ()


def case_of(crop: Crop | None, yes: Iterable[str], no: Iterable[str], readings: Iterable[Reading], tables: Tables) -> Case:
    """A case of known names. Raises UnknownName for a feature or reading that the tables do not have. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> case_of(None, ["age_old"], [], [], tables).yes
    ('age_old',)
    """
    seen, unseen, read = tuple(dict.fromkeys(yes)), tuple(dict.fromkeys(no)), tuple(readings)
    for name in (*seen, *unseen):
        if name not in tables.watch.features:
            raise UnknownName("feature", name[:40], f"“{name[:40]}” is no feature we know", "see `iron-rake features`")
    known = {(row.evidence, row.level) for row in tables.watch.evidence.values()}
    for evidence, level in read:
        if (evidence, level) not in known:
            raise UnknownName("reading", f"{evidence}={level}"[:60], "that reading says nothing to any cause", "leave it out")
    return Case(crop, seen, tuple(name for name in unseen if name not in seen), read)


def shares(case: Case, tables: Tables) -> dict[str, float]:
    """The share of each cause that can be, the likeliest first; they add to one. Source: symptom-weights.

    A share is one of this table, not a chance in the world.

    >>> from agronomy.intake.example import tables
    >>> found = shares(Case(None, ("age_old", "pat_herring", "col_yellow", "time_fruit")), tables)
    >>> next(iter(found)), round(found["mg_short"], 2)
    ('mg_short', 0.4)
    """
    yes, counted_once = _seen(case, tables)
    factors = _factors(case, yes, tables)
    scores = {
        key: log(cause.prior * factors.get(key, 1.0)) + tables.watch.together.value * _signs(key, yes, case.no, counted_once, tables)
        for key, cause in tables.watch.causes.items()
        if _can_be(cause.only_for, case)
    }
    most = max(scores.values())
    whole = sum(exp(score - most) for score in scores.values())
    found = {key: exp(score - most) / whole for key, score in scores.items()}
    return dict(sorted(found.items(), key=lambda pair: -pair[1]))


def chance(cause: str, feature: str, tables: Tables) -> float:
    """How often a feature shows with a cause; where nothing links them, as often as elsewhere. Source: symptom-weights.

    >>> from agronomy.intake.example import tables
    >>> chance("mg_short", "pat_herring", tables) > chance("n_short", "pat_herring", tables)
    True
    """
    link = tables.watch.links.get((cause, feature))
    return link.p if link else tables.watch.features[feature].elsewhere


def signs_of(case: Case, tables: Tables) -> list[CropSign]:
    """The crop's own signs whose features were all seen. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> signs_of(Case(tables.crops["tomato"], ("fruit_end_rot",)), tables)[0].called
    'blossom end rot'
    """
    yes, _ = _seen(case, tables)
    if case.crop is None:
        return []
    return [row for row in tables.watch.crop_signs if row.crop == case.crop.key and set(row.when) <= set(yes)]


def _seen(case: Case, tables: Tables) -> tuple[list[str], set[tuple[str, str]]]:
    """Features seen, with those that readings stand for; and pairs of cause and feature that a reading counts already."""
    yes, once = list(case.yes), set()
    for evidence, level in case.readings:
        stands_for, same = SAME_FACT.get(evidence, ({}, ()))
        feature = stands_for.get(level)
        if feature and feature not in yes:
            yes.append(feature)
        once |= {(key, name) for name in same for key in tables.watch.causes if (key, evidence, level) in tables.watch.evidence}
    return yes, once


def _factors(case: Case, yes: list[str], tables: Tables) -> Mapping[str, float]:
    """What readings and the crop's own signs do to the odds of each cause."""
    found: dict[str, float] = {}
    for evidence, level in case.readings:
        for key in tables.watch.causes:
            row = tables.watch.evidence.get((key, evidence, level))
            if row:
                found[key] = found.get(key, 1.0) * row.factor
    own: dict[str, float] = {}
    for sign in signs_of(Case(case.crop, tuple(yes)), tables):
        own[sign.cause] = max(own.get(sign.cause, 0.0), sign.factor)
    return {key: found.get(key, 1.0) * own.get(key, 1.0) for key in {*found, *own}}


def _signs(cause: str, yes: list[str], no: tuple[str, ...], once: set[tuple[str, str]], tables: Tables) -> float:
    """What features seen and not seen say to a cause; what was not asked says nothing."""
    features = tables.watch.features
    total = 0.0
    for name in yes:
        if (cause, name) not in once:
            total += log(chance(cause, name, tables) / features[name].elsewhere)
    for name in no:
        total += log((1 - chance(cause, name, tables)) / (1 - features[name].elsewhere))
    return total


def _can_be(only_for: str | None, case: Case) -> bool:
    """Whether a cause that is of some plants only can be here; of an unnamed crop any can."""
    crop = case.crop
    if only_for == "container":
        return "dist_pot" in case.yes
    if only_for is None or crop is None:
        return True
    if only_for == "legume":
        return crop.family == "pea"
    if only_for == "brassica":
        return crop.family == "cabbage"
    return not (crop.family in NARROW or (crop.is_grass and crop.family != "pea"))
