"""Error pages in the house's look; the one for 500 leans on nothing that may be broken."""

import errno
import sys

from django.db import DatabaseError
from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string

_NOT_STORED = "What you sent was not stored, and nothing else was changed. Go back: what you typed is still there."


def bad_request(request, exception=None):
    return _page(
        request, 400, "That request made no sense here", "The page was asked for in a way it doesn't understand. Go back and try again."
    )


def forbidden(request, exception=None, reason=""):
    said = str(exception) if exception else ""
    if said:
        return _page(request, 403, "This door is closed", f"{said[0].upper()}{said[1:]}.")
    return _page(
        request,
        403,
        "This door is closed",
        "The page was open too long, or cookies are switched off. Go back, load it afresh and send it again.",
    )


def not_found(request, exception=None):
    return _page(
        request,
        404,
        "Nothing grows here",
        "This address leads nowhere on your holding. It may have been removed, or belong to somebody else.",
    )


def too_much(request, says: str):
    return _page(request, 413, "That is all this holding can keep", says)


def too_often(request):
    return _page(request, 429, "Too often", "That was tried from here many times in a short while. Wait some minutes, then try again.")


def server_error(request):
    """Made without a query, since the database may be what broke; with the id under which the log tells more."""
    status, heading, text = out_of_store(sys.exception()) or (
        500,
        "Something broke on our side",
        "What you had stored is safe. Try again. If it happens again, tell whoever runs this server when it was, and the number below.",
    )
    told = {"status": status, "heading": heading, "text": text, "request_id": getattr(request, "id", "")}
    return HttpResponse(render_to_string("error.html", told), status=status)


def out_of_store(error: BaseException | None) -> tuple[int, str, str] | None:
    """Status, heading and text where it is the disk or the database that takes nothing; None for any other error."""
    says = str(error).lower()
    number = error.errno if isinstance(error, OSError) else None
    of_database = isinstance(error, DatabaseError)
    if number in (errno.ENOSPC, errno.EDQUOT) or (of_database and ("disk is full" in says or "no space left" in says)):
        return 507, "The disk is full", f"{_NOT_STORED} Tell whoever runs this server that its disk is full, then send it again."
    if number == errno.EROFS or (of_database and ("readonly" in says or "read-only" in says)):
        return 507, "Nothing can be stored now", f"{_NOT_STORED} Tell whoever runs this server that its database can only be read."
    if of_database and "database is locked" in says:
        return 503, "Many are writing at this moment", f"{_NOT_STORED} Wait a minute, then send it again."
    return None


def _page(request, status: int, heading: str, text: str):
    return render(request, "error.html", {"status": status, "heading": heading, "text": text}, status=status)
