"""Error pages in the house's look; the one for 500 leans on nothing that may be broken."""

from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string


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
    told = {
        "status": 500,
        "heading": "Something broke on our side",
        "text": (
            "What you had stored is safe. Try again. If it happens again, tell whoever runs this server when it was, and the number below."
        ),
        "request_id": getattr(request, "id", ""),
    }
    return HttpResponse(render_to_string("error.html", told), status=500)


def _page(request, status: int, heading: str, text: str):
    return render(request, "error.html", {"status": status, "heading": heading, "text": text}, status=status)
