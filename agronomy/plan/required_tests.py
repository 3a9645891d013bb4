"""What must be judged for a crop before anything may be called enough, and was not."""

from collections.abc import Sequence

from agronomy.base.said import say
from agronomy.plan.assess import Assessment
from agronomy.tables import Tables


def not_tested(found: Assessment, tables: Tables) -> list[str]:
    """The analytes that matter for the crop and were not tested, by key. Source: crop-calendars.

    >>> from agronomy.intake.example import found, tables
    >>> not_tested(found(), tables)
    ['S', 'B']
    """
    unjudged = {item.analyte for item in found.unjudged}
    return [key for key in _musts(found, tables) if key not in found.readings and key not in unjudged]


def not_judged(found: Assessment, tables: Tables) -> list[str]:
    """The analytes that matter for the crop and were tested, but can't be judged here, by key. Source: crop-calendars.

    >>> from agronomy.intake.example import found, tables
    >>> not_judged(found(), tables)
    []
    """
    unjudged = {item.analyte for item in found.unjudged}
    return [key for key in _musts(found, tables) if key in unjudged]


def named(keys: Sequence[str], tables: Tables) -> str:
    """Analytes as a list in words.

    Source: definition.

    >>> from agronomy.intake.example import tables
    >>> named(["pH", "P", "K"], tables)
    'pH, phosphorus and potassium'
    """
    names = ["pH" if key == "pH" else tables.analytes[key].name.lower() for key in keys]
    return names[0] if len(names) == 1 else say("{names} and {last}", names=", ".join(names[:-1]), last=names[-1])


def _musts(found: Assessment, tables: Tables) -> tuple[str, ...]:
    return tables.growing.must_be_judged(found.request.crop.key, found.request.crop.group)
