"""Where a person is signed in: one row a sign-in, so that each can be ended from afar."""

from django.contrib.auth.signals import user_logged_in
from django.contrib.sessions.models import Session
from django.utils import timezone

from web.people.models import OpenSession, User

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


def remember(sender, request, user, **_) -> None:
    """Writes down a sign-in under the key of its session."""
    if request.session.session_key is None:
        request.session.save()
    OpenSession.objects.update_or_create(
        session_key=request.session.session_key,
        defaults={
            "user": user,
            "began_at": timezone.now(),
            "address": request.META.get("REMOTE_ADDR", "")[:45],
            "machine": machine_of(request.META.get("HTTP_USER_AGENT", "")),
        },
    )


def watch() -> None:
    user_logged_in.connect(remember, dispatch_uid="open-sessions")


def open_sessions(user: User) -> list[OpenSession]:
    """The sessions of a person that still serve, the newest first; what is over is forgotten."""
    rows = list(user.open_sessions.order_by("-began_at"))
    keys = {row.session_key for row in rows}
    alive = set(Session.objects.filter(session_key__in=keys, expire_date__gt=timezone.now()).values_list("session_key", flat=True))
    if keys - alive:
        user.open_sessions.filter(session_key__in=keys - alive).delete()
    return [row for row in rows if row.session_key in alive]


def end(rows) -> int:
    """Ends some sessions at once; how many there were."""
    keys = [row.session_key for row in rows]
    Session.objects.filter(session_key__in=keys).delete()
    OpenSession.objects.filter(session_key__in=keys).delete()
    return len(keys)


def go_on_as(user: User, old_key: str, request) -> None:
    """After a change of password: this session goes on under its new key, and all others are over."""
    end(user.open_sessions.exclude(session_key=old_key))
    user.open_sessions.filter(session_key=old_key).update(session_key=request.session.session_key)
