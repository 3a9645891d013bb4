"""What is said beside a ranking: red flags before it, chains of one cause and its consequence, and two causes at once."""

from collections.abc import Mapping
from itertools import combinations

from agronomy.diagnose.causes import Case, chance, seen_in
from agronomy.tables import Tables
from agronomy.tables.rooms.watch import Chain, RedFlag

LOOKED_AT = 12  # causes among which two at once are sought


def red_flags(case: Case, found: Mapping[str, float], tables: Tables) -> tuple[RedFlag, ...]:
    """What must be said before any ranking. `found`: shares of causes. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> case = Case(tables.crops["pear"], ("form_dieback", "col_black"))
    >>> [flag.key for flag in red_flags(case, {}, tables)]
    ['fire_blight']
    """
    crop = case.crop.key if case.crop else ""
    said = []
    for flag in tables.watch.red_flags.values():
        if flag.crops and crop not in flag.crops:
            continue
        of_cause = not flag.causes or any(found.get(key, 0.0) >= tables.watch.shown_from.value for key in flag.causes)
        if of_cause and set(flag.when) <= set(case.yes):
            said.append(flag)
    return tuple(said)


def chains(case: Case, ranked: list[str], tables: Tables) -> tuple[Chain, ...]:
    """Chains of which the tail is among the first four and the head too, or its sign was seen. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> case = Case(None, ("age_old", "pat_herring", "gr_k_heavy"))
    >>> [chain.head for chain in chains(case, ["mg_short", "ageing"], tables)]
    ['k_excess']
    """
    first, seen = ranked[: int(tables.watch.most_shown.value)], seen_in(case, tables)
    told: dict[str, Chain] = {}
    for row in tables.watch.chains:
        if row.tail in first and (row.head in first or row.sign in seen):
            told.setdefault(row.head, row)
    return tuple(told.values())


def two_at_once(case: Case, found: Mapping[str, float], tables: Tables) -> tuple[str, str] | None:
    """Two causes that together cover what no likely one does: each shows at least two features that the other does not.

    Source: symptom-weights.

    >>> from agronomy.diagnose.causes import shares
    >>> from agronomy.intake.example import tables
    >>> case = Case(None, ("sign_web", "pat_stipple", "sign_crust", "pat_tip_burn", "pat_edge_burn"))
    >>> two_at_once(case, shares(case, tables), tables)
    ('mites', 'salt')
    """
    figures = tables.watch
    least = int(figures.two_signs.value)
    features = {name for name in case.yes if figures.features[name].group not in ("ground", "when", "spread")}
    if len(features) < 2 * least:
        return None

    def covered(cause: str) -> set[str]:
        return {name for name in features if chance(cause, name, case, tables) >= figures.covers_from.value}

    likely = [key for key in found if key != "other"][:LOOKED_AT]
    by_cause = {key: covered(key) for key in likely}
    if any(len(features - by_cause[key]) < least for key in likely if found[key] >= figures.shown_from.value):
        return None
    best, most = None, 0.0
    for one, other in combinations(likely, 2):
        alone, beside = by_cause[one] - by_cause[other], by_cause[other] - by_cause[one]
        enough = min(found[one], found[other]) >= figures.two_from.value and min(len(alone), len(beside)) >= least
        if enough and by_cause[one] | by_cause[other] == features and found[one] * found[other] > most:
            best, most = (one, other), found[one] * found[other]
    return best
