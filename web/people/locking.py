"""Which account a sign-in is for, so that wrong guesses are counted by account and address."""


def account_of(request, credentials: dict | None = None) -> str | None:
    """The e-mail address that a sign-in names, in small letters; capitals must not give eight more guesses."""
    given = credentials or {}
    typed = given.get("email") or given.get("username") or request.POST.get("username")
    return typed.strip().lower() if typed else None
