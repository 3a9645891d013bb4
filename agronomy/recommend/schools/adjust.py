"""What holds for every school alike: what the plot is given anyway comes off its needs, and the owner's own caps come last."""

from dataclasses import replace

from agronomy.base.said import Measure, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Answer, Need, Nothing, Unmet
from agronomy.model.credit import Credit
from agronomy.recommend.nutrients.credits import counted
from agronomy.tables import Tables


def less_credits(answers: list[Answer], credits: tuple[Credit, ...], tables: Tables) -> list[Answer]:
    """P and K needs less what manures bring; nitrogen has its credits inside its budget already. Source: n-manure.

    >>> from agronomy.intake.example import needs, tables
    >>> [answer.what for answer in less_credits([needs()[1]], (), tables)]
    ['P']
    """
    if not any(credit.nutrient in ("P", "K") for credit in credits):
        return answers
    return [_less(answer, credits, tables) if isinstance(answer, Need) and answer.what in ("P", "K") else answer for answer in answers]


def _less(need: Need, credits: tuple[Credit, ...], tables: Tables) -> Answer:
    given, given_low, given_high = counted(credits, need.what)
    if given <= 0:
        return need
    names = " and ".join(dict.fromkeys(credit.name for credit in credits if credit.counted and credit.nutrient == need.what))
    rate = need.rate_kg_per_ha - given
    if rate < tables.nutrients.smallest_worth_spreading_kg_per_ha.value:
        return Nothing(
            need.what,
            say(
                "No bought {analytes}: {names} brings what is needed ({given:.0f}).",
                analytes=tables.analytes[need.what].name.lower(),
                names=names,
                given=Measure(given, "kg/ha"),
            ),
        )
    step = Step(
        "less what is given",
        f"need − {names}",
        {"need": Figure(need.rate_kg_per_ha, "kg/ha"), names: Figure(given, "kg/ha")},
        Figure(rate, "kg/ha"),
        "n-manure",
    )
    steps = tuple(step for credit in credits if credit.counted and credit.nutrient == need.what for step in credit.working)
    return replace(
        need,
        rate_kg_per_ha=rate,
        low_kg_per_ha=max(0.0, need.low_kg_per_ha - given_high),
        high_kg_per_ha=max(rate, need.high_kg_per_ha - given_low),
        why=say("{why} Less {given:.0f} from {names}.", why=need.why, given=Measure(given, "kg/ha"), names=names),
        working=(*need.working, *steps, step),
    )


def within_caps(answers: list[Answer], caps: dict[str, float]) -> list[Answer]:
    """Needs held to the owner's caps [kg of element/ha a year]; what a cap holds back is told as unmet. Source: user-value.

    >>> from agronomy.intake.example import needs
    >>> within_caps([needs()[1]], {"P": 20.0})[0].rate_kg_per_ha
    20.0
    """
    if not caps:
        return list(answers)
    found: list[Answer] = []
    for answer in answers:
        cap = caps.get(answer.what) if isinstance(answer, Need) else None
        if not isinstance(answer, Need) or cap is None or answer.rate_kg_per_ha <= cap:
            found.append(answer)
            continue
        step = Step(
            "your cap",
            "the lower of need and cap",
            {"need": Figure(answer.rate_kg_per_ha, "kg/ha"), "cap": Figure(cap, "kg/ha")},
            Figure(cap, "kg/ha"),
            "user-value",
        )
        held = Unmet(
            answer.what,
            answer.rate_kg_per_ha - cap,
            say(
                "Your own cap of {cap:g} holds back {rate:.0f}.",
                cap=Measure(cap, "kg/ha"),
                rate=Measure(answer.rate_kg_per_ha - cap, "kg/ha"),
            ),
        )
        if cap > 0:
            low = min(answer.low_kg_per_ha, cap)
            found.append(replace(answer, rate_kg_per_ha=cap, low_kg_per_ha=low, high_kg_per_ha=cap, working=(*answer.working, step)))
        found.append(held)
    return found
