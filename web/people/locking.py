"""Which account a sign-in is for, and where it comes from: wrong guesses are counted by both together."""

from allauth.account.adapter import get_adapter


def account_of(request, credentials: dict | None = None) -> str | None:
    """The e-mail address that a sign-in names, in small letters; capitals must not give eight more guesses."""
    given = credentials or {}
    typed = given.get("email") or given.get("username") or request.POST.get("username")
    return typed.strip().lower() if typed else None


def address_of(request) -> str:
    """Where somebody asks from, as all else here knows it."""
    return get_adapter(request).get_client_ip(request)
