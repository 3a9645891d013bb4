"""Causes ranked by what was seen and what was read: log-odds with the weights of the tables in `watch/`."""

from collections.abc import Iterable, Mapping
from math import exp, log

from agronomy.base.errors import UnknownName
from agronomy.base.record import record
from agronomy.diagnose.confirmed import OwnCases
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
    """What is known of an ailing plant: the crop, features seen and not seen, readings by kind and level; with what the plot itself
    answers (`known`) and one's own confirmed cases.
    """

    crop: Crop | None
    yes: tuple[str, ...] = ()
    no: tuple[str, ...] = ()
    readings: tuple[Reading, ...] = ()
    known: tuple[str, ...] = ()
    skipped: tuple[str, ...] = ()  # asked, and answered with "don't know"
    own: OwnCases = OwnCases()

    @property
    def asked(self) -> frozenset[str]:
        """Features that need not be asked any more."""
        return frozenset((*self.yes, *self.no, *self.known, *self.skipped))


def case_of(
    crop: Crop | None,
    yes: Iterable[str],
    no: Iterable[str],
    readings: Iterable[Reading],
    tables: Tables,
    *,
    known: Iterable[str] = (),
    skipped: Iterable[str] = (),
    own: OwnCases | None = None,
) -> Case:
    """A case of known names; what was answered goes before what the plot itself would answer.

    Raises UnknownName for a feature or reading that the tables do not have. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> case_of(None, ["age_old"], [], [], tables).yes
    ('age_old',)
    """
    seen, unseen, read = tuple(dict.fromkeys(yes)), tuple(dict.fromkeys(no)), tuple(readings)
    for name in (*seen, *unseen):
        if name not in tables.watch.features:
            raise UnknownName("feature", name[:40], f"“{name[:40]}” is not in our list of features", "see `iron-rake features`")
    levels = {(row.evidence, row.level) for row in tables.watch.evidence.values()}
    for evidence, level in read:
        if (evidence, level) not in levels:
            raise UnknownName("reading", f"{evidence}={level}"[:60], "that reading does not point to any cause", "leave it out")
    answered = {*seen, *unseen}
    facts = tuple(name for name in dict.fromkeys(known) if name in tables.watch.features and name not in answered)
    return Case(crop, seen, tuple(name for name in unseen if name not in seen), read, facts, tuple(skipped), own or OwnCases())


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
    weight = tables.watch.together.value
    scores = {}
    for key, cause in tables.watch.causes.items():
        if _can_be(cause.only_for, case):
            prior = case.own.prior(key, cause.prior, tables) * factors.get(key, 1.0)
            scores[key] = log(prior) + weight * _signs(key, yes, case, counted_once, tables)
    most = max(scores.values())
    whole = sum(exp(score - most) for score in scores.values())
    found = {key: exp(score - most) / whole for key, score in scores.items()}
    return dict(sorted(found.items(), key=lambda pair: -pair[1]))


def chance(cause: str, feature: str, case: Case, tables: Tables) -> float:
    """How often a feature shows with a cause, by the table and the case's own confirmed ones; where nothing links them, as often as
    elsewhere. Source: symptom-weights.

    >>> from agronomy.intake.example import tables
    >>> chance("mg_short", "pat_herring", Case(None), tables) > chance("n_short", "pat_herring", Case(None), tables)
    True
    """
    link = tables.watch.links.get((cause, feature))
    return case.own.chance(cause, feature, link.p if link else tables.watch.features[feature].elsewhere, tables)


def seen_in(case: Case, tables: Tables) -> list[str]:
    """Features seen, known of the plot, or that a reading stands for. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> seen_in(Case(None, ("age_old",), (), (("soil K", "high"),)), tables)
    ['age_old', 'gr_k_heavy']
    """
    return _seen(case, tables)[0]


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
    yes, once = [*case.yes, *case.known], set()
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


def _signs(cause: str, yes: list[str], case: Case, once: set[tuple[str, str]], tables: Tables) -> float:
    """What features seen and not seen say to a cause; what was not asked says nothing."""
    features = tables.watch.features
    total = 0.0
    for name in yes:
        if (cause, name) not in once:
            total += log(chance(cause, name, case, tables) / features[name].elsewhere)
    for name in case.no:
        total += log((1 - chance(cause, name, case, tables)) / (1 - features[name].elsewhere))
    return total


def _can_be(only_for: str | None, case: Case) -> bool:
    """Whether a cause that is of some plants only can be here; of an unnamed crop any can."""
    crop = case.crop
    if only_for == "container":
        return "dist_pot" in (*case.yes, *case.known)
    if only_for is None or crop is None:
        return True
    if only_for == "legume":
        return crop.family == "pea"
    if only_for == "brassica":
        return crop.family == "cabbage"
    return not (crop.family in NARROW or (crop.is_grass and crop.family != "pea"))
