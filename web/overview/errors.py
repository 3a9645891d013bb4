"""Error pages in the house's look; the one for 500 leans on nothing that may be broken."""

import errno
import sys

from django.db import DatabaseError
from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string

from web.missing import Missing

_NOT_STORED = "What you sent was not stored, and nothing else was changed. Go back: what you typed is still there."


def bad_request(request, exception=None):
    return _page(
        request, 400, "That request made no sense here", "The page was asked for in a way it doesn't understand. Go back and try again."
    )


def forbidden(request, exception=None, reason=""):
    said = str(exception) if exception else ""
    if said:
        return _page(request, 403, "This page is closed", f"{said[0].upper()}{said[1:]}.")
    return _page(
        request,
        403,
        "This page is closed",
        "The page was open too long, or cookies are switched off. Go back, load it afresh and send it again.",
    )


def not_found(request, exception=None):
    if isinstance(exception, Missing):
        return _page(request, 404, "Something is needed first", exception.says, address=exception.address, link=exception.link)
    return _page(
        request,
        404,
        "Page not found",
        "This address leads to nothing of yours. It may have been deleted, or belong to somebody else.",
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


def _page(request, status: int, heading: str, text: str, **way_on: str):
    """In the house's frame for who is signed in, so that every way on is there; a stranger sees no more than the text."""
    user, place = getattr(request, "user", None), getattr(request, "place", None)
    inside = user is not None and user.is_authenticated and place is not None
    told = {"status": status, "heading": heading, "text": text, **way_on}
    return render(request, "error_inside.html" if inside else "error.html", told, status=status)
