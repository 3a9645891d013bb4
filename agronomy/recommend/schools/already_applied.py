"""What was put on since the readings comes off the needs: a test taken before a dressing knows nothing of it."""

from dataclasses import replace
from datetime import date, timedelta

from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import ACIDITY, SPOKEN, Answer, Need, NeedKind, Nothing
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.reading import Reading
from agronomy.tables import Tables


def brings(done: ApplicationRecord, what: str, tables: Tables) -> float:
    """What a dressing brought of a need [kg/ha]. Source: material-typical.

    >>> from agronomy.intake.example import tables
    >>> round(brings(ApplicationRecord(tables.materials["urea"], 100, date(2027, 3, 1)), "N", tables))
    46
    """
    material, rate = done.material, done.rate_kg_per_ha
    if what == NeedKind.LIME:
        return rate * material.effective_neutralising_value if material.has_role("lime") else 0.0
    if what == NeedKind.ACIDIFIER:
        return -rate * material.cce / 100 * tables.acidity.sulfur_per_caco3.value if material.has_role("acidifier") else 0.0
    return rate * (material.share or {}).get(what, 0.0)


def counts_from(what: str, readings: dict[str, Reading], today: date, tables: Tables) -> date | None:
    """The day from which dressings are not in the test yet; None where there is no test to go by. Source: own-experience.

    A day; nothing is counted in kg before it.

    >>> from agronomy.intake.example import found, tables
    >>> str(counts_from("P", found().readings, date(2027, 3, 1), tables))
    '2027-02-20'
    """
    if what == "N":
        return today - timedelta(days=tables.choice.done_season_days.value)
    reading = readings.get("pH" if what in ACIDITY else what)
    return reading.taken if reading else None


def less_already_applied(
    answers: list[Answer], done: tuple[ApplicationRecord, ...], readings: dict[str, Reading], today: date, tables: Tables
) -> list[Answer]:
    """Needs less what the log says was put on since their test; a need that is met by it becomes Nothing. Source: own-experience.

    Rates in kg of element per hectare.

    >>> from agronomy.intake.example import needs, tables
    >>> less_already_applied([needs()[1]], (), {}, date(2027, 3, 1), tables)[0].what
    'P'
    """
    return (
        [_less(answer, done, readings, today, tables) if isinstance(answer, Need) else answer for answer in answers]
        if done
        else list(answers)
    )


def _less(need: Need, done: tuple[ApplicationRecord, ...], readings: dict[str, Reading], today: date, tables: Tables) -> Answer:
    since = counts_from(need.what, readings, today, tables)
    rows = [(item, brings(item, need.what, tables)) for item in done if since is not None and since <= item.on <= today]
    given = sum(amount for _, amount in rows)
    if given <= tables.choice.done_counts_from.value * need.rate_kg_per_ha:
        return need
    names = " and ".join(dict.fromkeys(item.material.name for item, amount in rows if amount > 0))
    last = max(item.on for item, amount in rows if amount > 0)
    rate = need.rate_kg_per_ha - given
    settles = (tables.choice.done_settles_ph if need.what in ACIDITY else tables.choice.done_settles).value
    if given >= settles * need.rate_kg_per_ha:
        return Nothing(
            need.what,
            say(
                "No more {spoken} now: {names} was put on since the test (last on {last:%-d %b %Y}). Test again before more.",
                spoken=SPOKEN[need.what],
                names=names,
                last=last,
            ),
        )
    step = Step(
        "less what was put on since the test",
        f"need − {names}",
        {"need": Figure(need.rate_kg_per_ha, "kg/ha"), names: Figure(given, "kg/ha")},
        Figure(rate, "kg/ha"),
        "user-value",
    )
    scale = rate / need.rate_kg_per_ha
    return replace(
        need,
        rate_kg_per_ha=rate,
        low_kg_per_ha=need.low_kg_per_ha * scale,
        high_kg_per_ha=need.high_kg_per_ha * scale,
        why=say("{why} Less what was spread since the test ({names}).", why=need.why, names=names),
        working=(*need.working, step),
    )
