"""What to ask next, when to stop, and what to say: in words, with the one check between the first two."""

from math import log

from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.diagnose.causes import Case, chance, shares, signs_of
from agronomy.diagnose.together import chains, red_flags, two_at_once
from agronomy.tables import Tables
from agronomy.tables.rooms.watch import Cause, Chain, CropSign, Feature, LookAlike, RedFlag

CHEAP_FIRST = ("age", "pattern", "colour", "form", "fruit", "spread", "when", "sign", "ground", "root")


@record
class Candidate:
    """A cause that could be, how it stands in words, and what speaks for and against it among what was said."""

    cause: Cause
    share: float
    word: str
    speaks_for: tuple[str, ...]
    speaks_against: tuple[str, ...]


@record
class Verdict:
    """What to tell: a sentence, the candidates, what parts the first two, the crop's own signs, and what to ask next (none: enough).

    `flags` go before all of it; `chains` tell what comes of what; `both`: two causes that may be at work at once.
    """

    says: str
    candidates: tuple[Candidate, ...]
    parts: LookAlike | None
    signs: tuple[CropSign, ...]
    ask: tuple[Feature, ...]
    flags: tuple[RedFlag, ...] = ()
    chains: tuple[Chain, ...] = ()
    both: tuple[Cause, ...] = ()


def verdict(case: Case, tables: Tables) -> Verdict:
    """Where a case stands. Source: symptom-weights.

    >>> from agronomy.intake.example import tables
    >>> told = verdict(Case(tables.crops["tomato"], ("fruit_end_rot",)), tables)
    >>> told.candidates[0].cause.key
    'ca_short'
    """
    found = shares(case, tables)
    if not case.yes and not case.no:
        return Verdict(say("Say what you see: it takes a few answers."), (), None, (), next_question(case, tables))
    ranked = list(found.items())
    (first, share), (second, other) = ranked[:2]
    sure = share >= tables.watch.sure_share.value and share >= tables.watch.sure_times.value * other
    vague = share < tables.watch.too_low.value or "other" in [key for key, _ in ranked[:3]]
    shown = [key for key, part in ranked if part >= tables.watch.shown_from.value and key != "other"][: int(tables.watch.most_shown.value)]
    linked = chains(case, shown, tables)
    heads = [chain.head for chain in linked if chain.head in shown]
    shown = [*dict.fromkeys(heads), *[key for key in shown if key not in heads]]
    pair = None if sure else two_at_once(case, found, tables)
    candidates = tuple(_candidate(key, found[key], sure and key == first, case, tables) for key in shown)
    names = [tables.watch.causes[key].name for key in shown]
    both = tuple(tables.watch.causes[key] for key in pair or ())
    if both:
        says = say("May be two things at once: {first}, and {second}.", first=both[0].name, second=both[1].name)
    elif sure:
        says = say("Looks most like: {causes}.", causes=tables.watch.causes[first].name)
    elif vague or not candidates:
        says = say("Not enough to tell. Photograph it, mark three plants, look again in a week, or send a whole plant with its roots.")
    else:
        says = say("Could be: {listed}.", listed=_listed(names))
    parts = next((row for row in tables.watch.look_alikes if {row.cause_a, row.cause_b} == {first, second}), None)
    return Verdict(
        says,
        candidates,
        None if sure else parts,
        tuple(sign for sign in signs_of(case, tables) if sign.cause in shown),
        () if sure else next_question(case, tables),
        red_flags(case, found, tables),
        linked,
        both,
    )


def next_question(case: Case, tables: Tables) -> tuple[Feature, ...]:
    """The features of the question that tells most; none where nothing would tell much more, or enough was asked.

    Features of which one alone can be are asked together; others are a question of yes or no each. Source: symptom-weights.

    >>> from agronomy.intake.example import tables
    >>> {feature.group for feature in next_question(Case(None), tables)}
    {'age'}
    """
    asked = case.asked
    features = tables.watch.features
    groups = {features[name].group for name in asked}
    one_answer = {features[name].group for name in case.yes if features[name].pick == "one"}
    if "age" not in groups:
        return tuple(row for row in features.values() if row.group == "age")
    if len(case.yes) + len(case.no) >= tables.watch.most_questions.value:
        return ()
    found = shares(case, tables)
    open_ = [row for key, row in features.items() if key not in asked and row.group not in one_answer]
    gains = {row.key: _gain(row.key, found, case, tables) for row in open_}
    best = max(gains.values(), default=0.0)
    if best < tables.watch.least_gain.value:
        return ()
    good = [row for row in open_ if gains[row.key] >= tables.watch.as_good.value * best]
    return (min(good, key=lambda row: CHEAP_FIRST.index(row.group)),)


def _gain(feature: str, found: dict[str, float], case: Case, tables: Tables) -> float:
    """By how much the answer to a question of yes or no is expected to lower the entropy of the shares [nats]."""
    seen = {key: share * chance(key, feature, case, tables) for key, share in found.items()}
    p = sum(seen.values())
    unseen = {key: share - seen[key] for key, share in found.items()}
    return _entropy(found.values(), 1.0) - p * _entropy(seen.values(), p) - (1 - p) * _entropy(unseen.values(), 1 - p)


def _entropy(parts, whole: float) -> float:
    return -sum(part / whole * log(part / whole) for part in parts if part > 0)


def _candidate(key: str, share: float, is_sure: bool, case: Case, tables: Tables) -> Candidate:
    features = tables.watch.features
    for_, against = [], []
    for name in (*case.yes, *case.known):
        link = tables.watch.links.get((key, name))
        if link and link.p > features[name].elsewhere:
            for_.append(features[name].answer)
        elif link:
            against.append(features[name].answer)
    for name in case.no:
        link = tables.watch.links.get((key, name))
        if link and link.p > features[name].elsewhere:
            against.append(f"not: {features[name].answer}")
    for evidence, level in case.readings:
        row = tables.watch.evidence.get((key, evidence, level))
        if row:
            (for_ if row.factor > 1 else against).append(f"{evidence} {level}")
    word = "most like" if is_sure else "could be" if share >= tables.watch.too_low.value else "less likely"
    return Candidate(tables.watch.causes[key], share, word, tuple(for_), tuple(against))


def _listed(names: list[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"
