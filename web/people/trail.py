"""Who was let in, given another role or taken out, when and by whom: owners read it, nobody changes it."""

from web.people.models import Holding, PeopleEvent, User


def note(holding: Holding, by: User, what: str) -> None:
    """Writes one line, with the name as it is today: the person may be gone when it is read."""
    PeopleEvent.objects.create(holding=holding, by=str(by)[:254], what=what[:300])
