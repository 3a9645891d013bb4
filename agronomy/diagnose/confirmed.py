"""Cases that a test or a treated strip has confirmed: a holding's own table of the key grows from the common one."""

from collections.abc import Iterable

from agronomy.base.record import record
from agronomy.tables import Tables


@record
class Confirmed:
    """A cause that was confirmed, with the features that were seen and those that were looked for and not seen."""

    cause: str
    yes: tuple[str, ...]
    no: tuple[str, ...] = ()


@record
class OwnCases:
    """How often features showed with causes, by a holding's own confirmed cases. Made once for a case, asked for each feature."""

    confirmed: tuple[Confirmed, ...] = ()

    def prior(self, cause: str, table: float, tables: Tables) -> float:
        """The prior of a cause: the table's, weighed as so many cases, with one's own. Source: symptom-weights.

        >>> from agronomy.intake.example import tables
        >>> OwnCases((Confirmed("mites", ()),) * 10).prior("mites", 0.02, tables) > 0.06
        True
        """
        if not self.confirmed:
            return table
        weight = tables.watch.prior_cases.value
        return (weight * table + sum(case.cause == cause for case in self.confirmed)) / (weight + len(self.confirmed))

    def chance(self, cause: str, feature: str, table: float, tables: Tables) -> float:
        """How often a feature shows with a cause. Source: symptom-weights.

        >>> from agronomy.intake.example import tables
        >>> round(OwnCases((Confirmed("mites", ("age_old",)),) * 2).chance("mites", "age_old", 0.35, tables), 2)
        0.48
        """
        seen = sum(case.cause == cause and feature in case.yes for case in self.confirmed)
        asked = seen + sum(case.cause == cause and feature in case.no for case in self.confirmed)
        if not asked:
            return table
        weight = tables.watch.kept_as_cases.value
        return (weight * table + seen) / (weight + asked)


def own_cases(cases: Iterable[Confirmed], tables: Tables) -> OwnCases:
    """One's own cases of causes that the table has. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> len(own_cases([Confirmed("mites", ()), Confirmed("nothing", ())], tables).confirmed)
    1
    """
    return OwnCases(tuple(case for case in cases if case.cause in tables.watch.causes))
