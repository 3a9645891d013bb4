"""When to test next, and what: the test that decides something comes first."""

from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.base.said import joined, say
from agronomy.dose.application import Application
from agronomy.interpret.leaf import LEAF
from agronomy.model.answers import ACIDITY
from agronomy.model.seasons import add_months
from agronomy.plan.assess import Assessment
from agronomy.plan.required_tests import named, not_tested
from agronomy.schedule.retest_days import retest_day, years_old
from agronomy.tables import Tables

CANNOT_DOSE = frozenset({"probe"})
DECIDES = ("pH", "P", "K")


@record
class NextTest:
    """The day, and what to test and why in a sentence."""

    day: date
    says: str


def _without_ground(found: Assessment) -> NextTest | None:
    """Of bales and pots."""
    request, today = found.request, found.request.today
    if request.plot.ground == "bale":
        return NextTest(
            add_months(today, 12),
            say("Bales need no soil test: push a thermometer in, and plant when the core stays below {30 °C} two days."),
        )
    if request.plot.ground == "container":
        if not request.readings:
            return NextTest(
                add_months(today, 12),
                say("Pots need no soil test. Pour water through one and test pH and salt of what runs out, once in spring."),
            )
        return NextTest(add_months(today, 3), say("Test pH and salt of the mix again after three months of the new water."))
    return None


def _before_all(found: Assessment, tables: Tables) -> NextTest | None:
    """What salt, no test, a probe, a standing crop or a kit ask for before anything else."""
    request, today = found.request, found.request.today
    calendar = found.calendar
    salty = [finding.class_ for finding in found.salt.values() if finding.class_ != "right"]
    if any(class_ in ("sodic", "sodium_rising") for class_ in salty):
        return NextTest(add_months(today, 9), say("Test salt (EC) and sodium again after leaching, before the next crop."))
    if salty:
        before = calendar.anchor - timedelta(days=14)
        day = before if before > today + timedelta(days=10) else today + timedelta(days=45)
        return NextTest(day, say("Test salt (EC) and nitrate again after washing, before planting."))
    if not request.readings:
        return NextTest(
            add_months(today, 6),
            say("One sample of fifteen cores for pH, phosphorus and potassium, before the next crop, would decide what to buy."),
        )
    if all(reading.how in CANNOT_DOSE for reading in request.readings):
        return NextTest(
            add_months(today, 1), say("Send one soil sample to a laboratory: pH, phosphorus and potassium. A probe can't carry a rate.")
        )
    years = years_old(found.readings.values(), today, tables)
    if years is not None:
        missing = [key for key in not_tested(found, tables) if key in DECIDES]
        also = say(", and {names} with it", names=named(missing, tables)) if missing else ""
        says = say(
            "The readings are {years} years old: have the ground tested again{also}, before much is spent on it.", years=years, also=also
        )
        return NextTest(today + timedelta(days=tables.timing.retest.days_when_old), says)
    nitrate = found.readings.get("NO3-N")
    if nitrate is not None and calendar.growing and not calendar.stands:
        return NextTest(
            today + timedelta(days=14),
            say("Test nitrate in the standing crop again in two to three weeks: it decides whether more is due."),
        )
    if all(reading.how == "kit" for reading in request.readings):
        return NextTest(add_months(today, 4), say("A laboratory test of pH, phosphorus, potassium and magnesium before the second half."))
    return None


def next_test(found: Assessment, applications: list[Application], last_taken: date | None, tables: Tables) -> NextTest:
    """The next test that matters for a plot. Source: retest-guide.

    Waits in days.

    >>> from agronomy.intake.example import found, plan, tables
    >>> next_test(found(), list(plan().applications), None, tables).day > date(2027, 3, 1)
    True
    """
    request, rule, today = found.request, tables.timing.retest, found.request.today
    ordinary = retest_day(applications, last_taken, found.soil, today, tables, on_grass=request.crop.is_grass)
    waits = min((item.from_ for item in applications if item.later and item.what in ACIDITY), default=None)
    if waits is not None and waits - timedelta(days=rule.days_when_old) > today:
        ordinary = min(ordinary, waits - timedelta(days=rule.days_when_old))
    if found.contradictions:
        checks = joined(dict.fromkeys(item.check for item in found.contradictions))
        return NextTest(today + timedelta(days=rule.days_when_disputed), checks)
    special = _without_ground(found) or _before_all(found, tables)
    if special is not None:
        return special
    calendar = found.calendar
    alkalinity = found.readings.get("alkalinity")
    limes = alkalinity is not None and alkalinity.value >= rule.alkaline_water_from_mg_per_l
    if limes and not calendar.stands and found.acidity is not None and found.acidity.class_ == "too_alkaline":
        return NextTest(add_months(today, 7), say("Test alkalinity and pH at the dripper after acidifying, and pH of the bed in autumn."))
    leaves = [reading.taken for key, reading in found.readings.items() if key.startswith(LEAF) and reading.taken]
    if leaves:
        day = add_months(max(leaves), 12)
        while day <= today:
            day = add_months(day, 12)
        return NextTest(day, say("The leaf test at the same stage next year decides nitrogen and the trace elements."))
    untested = [key for key in not_tested(found, tables) if key in DECIDES]
    if untested and not found.leaves:
        return NextTest(
            min(ordinary, add_months(today, 12)),
            say("Have {untested} tested before the next crop: it decides what to buy.", untested=named(untested, tables)),
        )
    if any(item.what in ACIDITY for item in applications):
        return NextTest(ordinary, say("Test pH again before anything more is put on for it."))
    return NextTest(ordinary, say("Test the same again: pH, phosphorus, potassium and magnesium."))
