"""Where a person is signed in, so that each place can be ended from another. The rows are django-allauth's."""

from collections.abc import Iterable

from allauth.usersessions.adapter import get_adapter
from allauth.usersessions.models import UserSession

from web.people.models import User

BROWSERS = ("Edg", "OPR", "Firefox", "Chrome", "Safari")  # in this order: each of them also names those after it
SPOKEN = {"Edg": "Edge", "OPR": "Opera"}
MACHINES = ("Android", "iPhone", "iPad", "Windows", "Macintosh", "Linux")


def machine_of(agent: str) -> str:
    """What a browser says of itself, in two words.

    >>> machine_of("Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0")
    'Firefox, Linux'
    >>> machine_of("")
    'an unknown browser'
    """
    named = [SPOKEN.get(word, word) for words in (BROWSERS, MACHINES) if (word := next((word for word in words if word in agent), ""))]
    return ", ".join(named) or "an unknown browser"


def open_sessions(user: User) -> list[UserSession]:
    """The sessions of a person that still serve, the newest first; what is over is forgotten."""
    return sorted(UserSession.objects.purge_and_list(user), key=lambda row: row.created_at, reverse=True)


def end(rows: Iterable[UserSession]) -> int:
    """Ends some sessions at once; how many there were."""
    ended = list(rows)
    get_adapter().end_sessions(ended)
    return len(ended)
