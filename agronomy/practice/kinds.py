"""The kinds of exercises, each dealt from the tables and answered by the core's own rules."""

from collections.abc import Callable
from functools import lru_cache
from itertools import combinations
from random import Random

from agronomy.base.record import record
from agronomy.base.said import Measure, large, measured, say
from agronomy.base.showing import number
from agronomy.diagnose.asking import verdict
from agronomy.diagnose.causes import case_of, shares
from agronomy.intake.example import soil
from agronomy.interpret.nutrients import Critical, classify, critical_for
from agronomy.model.finding import NUTRIENT_CLASSES
from agronomy.model.reading import read
from agronomy.model.soil import Soil
from agronomy.practice.exercise import Exercise
from agronomy.products.compatibility import clash, clashes
from agronomy.tables import Tables
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5
from agronomy.trial.analysis import verdict_on
from agronomy.watch.topdress import PLACES, Seen, topdress

CROPS = ("tomato", "potato", "cabbage", "carrot", "spring_barley", "maize", "strawberry", "apple", "lawn", "dahlia", "beans", "onion")
TESTS = (("P", "Olsen"), ("P", "Mehlich 3"), ("K", "ammonium acetate"), ("K", "Mehlich 3"), ("Mg", "Mehlich 3"))
CLASS_WORDS = {
    "very_short": "very short",
    "short": "short",
    "building": "a little under",
    "right": "right",
    "plenty": "plenty",
    "excess": "far too much",
}
LEVELS = (1, 3, 5)


@record
class Kind:
    """A kind of exercise: what it trains, and how a case is dealt."""

    name: str
    says: str
    deal: Callable[[Random, int, int, Tables, bool], Exercise]


def deal(kind: str, seed: int, level: int, tables: Tables, *, us: bool = False) -> Exercise:
    """The exercise of a kind, a seed and a level; the same three deal the same. `us`: doses in ounces and feet.

    Raises KeyError. Source: practice-own.

    >>> from agronomy.intake.example import tables
    >>> deal("class_reading", 4, 1, tables) == deal("class_reading", 4, 1, tables)
    True
    """
    return KINDS[kind].deal(Random(f"{kind} {seed} {level}"), seed, level, tables, us)  # noqa: S311 -- deals cases, guards no secret


@lru_cache(maxsize=1)
def _ground() -> Soil:
    return soil()


def _reading(rng: Random, tables: Tables) -> tuple[str, str, str, Critical]:
    """A crop, a nutrient and a method that the tables can judge, with the critical level."""
    while True:
        crop, (nutrient, method) = rng.choice(CROPS), rng.choice(TESTS)
        tested = read(nutrient, "10", unit="mg/kg", method=method, how="lab", taken=None, tables=tables)
        found = critical_for(tested, tables.crops[crop], _ground(), tables)
        if isinstance(found, Critical):
            return crop, nutrient, method, found


def _value_in(rng: Random, class_: str, edges: tuple[float, ...], level: int) -> float:
    """A value in a class: its middle at the first level, near an edge later; to three figures, and still in its class."""
    place = NUTRIENT_CLASSES.index(class_)
    low = edges[place - 1] if place else 0.3 * edges[0]
    high = edges[place] if place < len(edges) else 1.6 * edges[-1]
    share = rng.uniform(0.35, 0.65) if level == 1 else rng.choice((rng.uniform(0.06, 0.2), rng.uniform(0.8, 0.94)))
    value = float(f"{low + share * (high - low):.3g}")
    return value if classify(value, edges) == class_ else float(f"{(low + high) / 2:.6g}")


def _class_reading(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    crop, nutrient, method, found = _reading(rng, tables)
    class_ = rng.choice(NUTRIENT_CLASSES)
    value = _value_in(rng, class_, found.edges, level)
    place = NUTRIENT_CLASSES.index(classify(value, found.edges))
    return Exercise(
        kind="class_reading",
        seed=seed,
        level=level,
        asks=say("Which class is this reading in?"),
        facts=(
            ("Crop", tables.crops[crop].name),
            ("Test", f"{tables.analytes[nutrient].name} by {method}"),
            ("Reading", say("{number} mg/kg", number=number(value, 3))),
            ("Wanted for this crop", say("{number} mg/kg", number=number(found.level, 3))),
        ),
        options=tuple((key, CLASS_WORDS[key]) for key in NUTRIENT_CLASSES),
        right=NUTRIENT_CLASSES[place],
        near=frozenset(NUTRIENT_CLASSES[max(0, place - 1) : place + 2]) - {NUTRIENT_CLASSES[place]},
        why=(
            say("The edges of the classes stand at ")
            + ", ".join(number(edge, 3) for edge in found.edges)
            + say(" mg/kg for this crop and method."),
            say("Another method has other edges: a figure without its method shows little."),
        ),
    )


def _nothing(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    crop, nutrient, method, found = _reading(rng, tables)
    class_ = rng.choice(("plenty", "excess", "right") if rng.random() < 0.5 else ("very_short", "short"))
    value = _value_in(rng, class_, found.edges, level)
    enough = value >= found.level
    spoken = tables.analytes[nutrient].name.lower()
    return Exercise(
        kind="nothing",
        seed=seed,
        level=level,
        asks=say("Does this bed need {spoken} this year?", spoken=spoken),
        facts=(
            ("Crop", tables.crops[crop].name),
            ("Test", say("{analytes} by {method}, this autumn", analytes=tables.analytes[nutrient].name, method=method)),
            ("Reading", say("{number} mg/kg", number=number(value, 3))),
            ("Enough from", say("{number} mg/kg", number=number(found.level, 3))),
        ),
        options=(("nothing", "nothing"), ("something", "a dressing")),
        right="nothing" if enough else "something",
        why=(
            say("The reading is {which} the level from which more no longer pays.", which="at or above" if enough else "below"),
            say("Half of all such questions end in nothing. That is an answer, not a gap.") if enough else "Short is worth mending.",
        ),
    )


@record
class _Habit:
    """How a dose is asked for: the ground's and the answer's unit, usual sizes and rates, and the answer for one of each."""

    ground: str
    rate: str
    unit: str
    ask: str
    areas: tuple[int, ...]
    rates: tuple[int, ...]
    wanted: tuple[int, ...]
    each: float


_METRIC = _Habit(
    "m²", "g/m²", "g", "grams", (6, 8, 10, 12, 15, 18, 24, 30, 40, 75), (30, 40, 50, 60, 80, 120, 150, 200), (4, 5, 6, 8, 10, 12), 1.0
)
_US = _Habit(
    "ft²", "oz/100 ft²", "oz", "ounces", (60, 80, 100, 120, 150, 200, 320, 400), (10, 15, 20, 24, 32, 40, 60), (1, 2, 3, 4, 5), 0.01
)
_LABELS = {"n": "N", "p2o5": "P₂O₅", "k2o": "K₂O"}


def _dose(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    habit = _US if us else _METRIC
    area = rng.choice(habit.areas)
    per = f" ÷ {1 / habit.each:g}" if habit.each != 1 else ""
    facts: tuple[tuple[str, str], ...]
    if level == 1:
        rate = rng.choice(habit.rates)
        facts = (("Bed", f"{area} {habit.ground}"), ("Rate", say("{rate} {unit} of the product", rate=rate, unit=habit.rate)))
        right = rate * area * habit.each
        why = f"{rate} {habit.rate} × {area} {habit.ground}{per} = {number(right, 4)} {habit.unit}."
    else:
        share_of, oxide, told = rng.choice(
            [("n", 1.0, "N"), ("p2o5", 1.0, "P₂O₅"), ("k2o", 1.0, "K₂O")]
            if level == 3
            else [("p2o5", P_IN_P2O5, "P"), ("k2o", K_IN_K2O, "K")]
        )
        bags = [item for item in tables.materials.values() if getattr(item, share_of) >= 8 and item.chosen_for_you]
        bag = rng.choice(sorted(bags, key=lambda item: item.key))
        pct, wanted = getattr(bag, share_of), rng.choice(habit.wanted)
        facts = (
            ("Bed", f"{area} {habit.ground}"),
            ("Wanted", f"{wanted} {habit.rate} of {told}"),
            ("Bag", f"{bag.name}, {pct:g} % {_LABELS[share_of]}"),
        )
        right = wanted * area * habit.each / oxide / (pct / 100)
        turned = say(" ÷ {oxide:.3f} (from {told} to {labels})", oxide=oxide, told=told, labels=_LABELS[share_of]) if oxide != 1 else ""
        why = f"{wanted} {habit.rate} × {area} {habit.ground}{per}{turned} ÷ {pct / 100:g} = {number(right, 4)} {habit.unit}."
    return Exercise(
        kind="dose",
        seed=seed,
        level=level,
        asks=say("How many {ask} of the product go on the whole bed?", ask=habit.ask),
        facts=facts,
        number=float(right),
        unit=habit.unit,
        why=(why, say("Round down, never up past a cap.")),
    )


def _bad_pair(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    pool = sorted((item for item in tables.materials.values() if item.chosen_for_you or item.has_role("lime")), key=lambda item: item.key)
    while True:
        some = rng.sample(pool, 4)
        found = clashes(some, tables)
        if len(found) == 1:
            break
    bad = found[0]
    pairs = {f"{a.key}+{b.key}": f"{a.name} and {b.name}" for a, b in combinations(some, 2)}
    right = next(f"{a.key}+{b.key}" for a, b in combinations(some, 2) if clash(a, b, tables) is not None)
    parted = say(" Keep them {days} days apart.", days=bad.days) if bad.days else ""
    return Exercise(
        kind="bad_pair",
        seed=seed,
        level=level,
        asks=say("Which two must not meet?"),
        facts=(("In the shed", ", ".join(item.name for item in some)),),
        options=tuple(pairs.items()),
        right=right,
        why=(f"{_sentence(bad.reason)}{parted}", *((_sentence(bad.danger),) if bad.danger else ())),
    )


def _topdress(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    crop = tables.crops[rng.choice(("maize", "sweet_corn", "winter_wheat"))]
    strip = round(rng.uniform(48, 56), 1)
    pale = rng.uniform(0.84, 0.92) if rng.random() < 0.6 else rng.uniform(0.96, 1.01)
    place = rng.choice(("in time", "in time", "past")) if level > 1 else "in time"
    looks = frozenset(rng.choice((("drought",), ("wet",), ("cold",)))) if level == 5 and rng.random() < 0.5 else frozenset()
    last = rng.choice((4, 20, 30)) if level > 1 else 25
    left = rng.choice((0, 40, 80)) if level == 5 else 80
    seen = Seen(
        crop=crop,
        instrument="meter",
        place=place,  # type: ignore[arg-type]
        meter=round(strip * pale, 1),
        strip=strip,
        looks=looks,
        last_days=last,
        remaining_kg_per_ha=left,
    )
    told = topdress(seen, tables)
    window = tables.topdress.windows[crop.key]
    facts: list[tuple[str, str]] = [
        (
            "Crop",
            say(
                "{crop}, {places} ({best_window}; at the latest {last_stage})",
                crop=crop.name,
                places=PLACES[seen.place],
                best_window=window.best_window,
                last_stage=window.last_stage,
            ),
        ),
        ("Greenness", say("crop {meter:g}, rich strip {strip:g}", meter=seen.meter, strip=seen.strip)),
        ("Last dressing", say("{last} days ago", last=last)),
        ("Season’s nitrogen left", measured(float(left), "kg/ha")),
    ]
    facts += [("It also shows", ", ".join(sorted(looks)))] if looks else []
    return Exercise(
        kind="topdress",
        seed=seed,
        level=level,
        asks="Give nitrogen now?",
        facts=tuple(facts),
        options=(("dress", "yes, a dressing"), ("nothing", "nothing now")),
        right="dress" if told.act == "dress" else "nothing",
        why=(
            told.read,
            told.reason,
            *((say("{dose:.3g}.", dose=Measure(told.n_kg_per_ha, "kg/ha")),) if told.act == "dress" else ()),
        ),
    )


def _sentence(text: str) -> str:
    """Words of a table as a sentence."""
    return say("{text}{end}", text=large(text), end="" if text.endswith((".", "?")) else ".")


VERDICTS = {
    "shown": say("larger than chance, and worth having"),
    "shown, worth open": say("a difference is shown; whether it is worth its cost is not"),
    "not shown": say("not shown; the trial was too small to tell"),
    "no difference worth having": "no difference worth having",
}


def _trial_words(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    worth = rng.choice((0.2, 0.3, 0.5))
    middle, reach = rng.choice(((1.2, 0.5), (0.45, 0.4), (0.15, 0.9), (0.02, 0.12), (-0.9, 0.3), (0.3, 0.28)))
    difference = round(middle * rng.uniform(0.9, 1.1), 2)
    low, high = round(difference - reach, 2), round(difference + reach, 2)
    key, says = verdict_on(difference, low, high, worth, "kg")
    return Exercise(
        kind="trial_words",
        seed=seed,
        level=level,
        asks=say("What may honestly be said?"),
        facts=(
            ("Difference from the control", f"{difference:+.2f} kg"),
            ("Interval, 95 %", say("{low:+.2f} to {high:+.2f}", low=Measure(low, "kg", bare=True), high=Measure(high, "kg"))),
            ("Worth having from", f"{worth} kg"),
        ),
        options=tuple(VERDICTS.items()),
        right=key,
        why=(says, say("The interval comes first: does it hold zero, and does it hold what is worth having?")),
    )


def _claim(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    row = rng.choice(sorted(tables.watch.claims.values(), key=lambda item: item.key))
    scale = ("well supported", "supported in some cases", "weak", "contradicted")
    place = scale.index(row.verdict)
    return Exercise(
        kind="claim",
        seed=seed,
        level=level,
        asks=say("How well does this stand?"),
        facts=(("It is said", row.claim),),
        options=tuple((verdict_, verdict_) for verdict_ in scale),
        right=row.verdict,
        near=frozenset(scale[max(0, place - 1) : place + 2]) - {row.verdict},
        why=(
            _sentence(row.evidence),
            _sentence(say("It holds: {holds_where}", holds_where=row.holds_where)),
            _sentence(say("Instead: {instead}", instead=row.instead)),
        ),
    )


def _diagnose(rng: Random, seed: int, level: int, tables: Tables, us: bool) -> Exercise:
    causes = sorted(key for key in tables.watch.causes if key != "other")
    while True:
        cause, crop = rng.choice(causes), tables.crops[rng.choice(CROPS)]
        told = [row for row in tables.watch.links.values() if row.cause == cause and row.p > tables.watch.features[row.feature].elsewhere]
        signs = sorted(told, key=lambda row: (-row.p, row.feature))[: 8 if level == 1 else 12]
        yes = [row.feature for row in rng.sample(signs, min(len(signs), 5 if level == 1 else 4))]
        case = case_of(crop, yes, [], [], tables)
        ranked = list(shares(case, tables).items())
        if len(ranked) > 4 and ranked[0][0] != "other" and ranked[0][1] >= (0.5 if level == 1 else 0.35):
            break
    best, others = ranked[0][0], [key for key, _ in ranked[1:] if key != "other"]
    keys = [best, *others[: 2 if level == 1 else 3], *rng.sample(others[6:], 2 if level == 1 else 1)]
    rng.shuffle(keys)
    look = verdict(case, tables).parts
    row = tables.watch.causes[best]
    return Exercise(
        kind="diagnose",
        seed=seed,
        level=level,
        asks=say("What does it look most like?"),
        facts=(
            ("Crop", crop.name),
            *((tables.watch.features[name].question.rstrip("?"), tables.watch.features[name].answer) for name in yes),
        ),
        options=tuple((key, tables.watch.causes[key].name) for key in keys),
        right=best,
        near=frozenset({others[0]}),
        why=(
            say("By these signs it looks most like {row}.", row=row.name),
            _sentence(say("To be sure: {confirm}", confirm=row.confirm)),
            *((_sentence(say("What tells it from the next: {one_check}", one_check=look.one_check)),) if look else ()),
        ),
    )


KINDS: dict[str, Kind] = {
    "class_reading": Kind("Class a reading", say("A figure, its method and the crop."), _class_reading),
    "nothing": Kind("Something or nothing", say("Half of them need nothing."), _nothing),
    "dose": Kind("Work out a dose", say("From a rate to grams of the bag."), _dose),
    "bad_pair": Kind(say("The pair that must not meet"), say("In a tank, a bag or on the ground."), _bad_pair),
    "topdress": Kind("Feed now, or not", say("A leaf meter, the stage and the season’s account."), _topdress),
    "diagnose": Kind("What is wrong with it?", say("Signs to a cause, and the check that settles it."), _diagnose),
    "trial_words": Kind("Plain words for a trial", say("An interval, and what may be said of it."), _trial_words),
    "claim": Kind("Common claims", "How well a claim holds.", _claim),
}
