"""What a request asks for, as bounded values: the one door for keys, whole numbers and addresses that come from outside.

An address or a form may hold anything. A key that cannot be one is a key of nothing (None), a number out of its bounds is the usual one,
an address that leads off this server is the first page; none of them ever is an error of ours.
"""

from collections.abc import Iterable
from uuid import UUID

from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme

MOST_KEY_DIGITS = 18  # the database's whole numbers have no more


def key_of(typed: object) -> int | None:
    """A key of a row as it stands in an address or a form; None for anything else.

    >>> key_of("17"), key_of("9" * 30), key_of("²"), key_of("-1"), key_of(None)
    (17, None, None, None, None)
    """
    text = str(typed or "").strip()
    return int(text) if text.isascii() and text.isdigit() and len(text) <= MOST_KEY_DIGITS else None


def keys_of(typed: Iterable[object]) -> list[int]:
    """The keys among some values, each once.

    >>> keys_of(["3", "x", "3", "5"])
    [3, 5]
    """
    return list(dict.fromkeys(key for value in typed if (key := key_of(value)) is not None))


def whole(typed: object, *, low: int, high: int, usual: int) -> int:
    """A whole number held between two ends; the usual one where none was typed.

    >>> whole("30", low=1, high=60, usual=7), whole("9" * 40, low=1, high=60, usual=7), whole("x", low=1, high=60, usual=7)
    (30, 7, 7)
    """
    found = key_of(typed)
    return usual if found is None else max(low, min(high, found))


def uuid_of(typed: object) -> UUID | None:
    """The name that a phone gave its entry; None for anything else."""
    try:
        return UUID(str(typed or ""))
    except ValueError:
        return None


def next_page(request) -> str:
    """The page of this server to go on to, as `next` says; the first page where that leads elsewhere or is no address."""
    wanted = str(request.POST.get("next") or request.GET.get("next") or "")
    return wanted if leads_here(wanted, request) else reverse("home")


def leads_here(address: str, request) -> bool:
    """Whether an address, typed or sent along, is a page of this server."""
    is_ours = address.startswith("/") and "\x00" not in address
    return is_ours and url_has_allowed_host_and_scheme(address, {request.get_host()}, require_https=request.is_secure())
