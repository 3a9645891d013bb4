"""A span of the year in which some materials must not be spread."""

from datetime import date, timedelta

from agronomy.base.record import record


@record
class ClosedSeason:
    """A span of the year in which some materials must not be spread, as the holding's owner wrote it from local rules: (month, day) to
    (month, day).
    """

    name: str
    materials: frozenset[str]
    begins: tuple[int, int]
    ends: tuple[int, int]

    def holds(self, day: date) -> bool:
        """Whether a day lies in it; a span may go over the turn of the year."""
        key = (day.month, day.day)
        return self.begins <= key <= self.ends if self.begins <= self.ends else key >= self.begins or key <= self.ends

    def first_free(self, day: date) -> date | None:
        """The first day from one on that is outside; None where the whole year is closed."""
        return next((later for later in (day + timedelta(days=ahead) for ahead in range(367)) if not self.holds(later)), None)
