"""Error pages in the house's look; the one for 500 leans on nothing that may be broken."""

from django.shortcuts import render


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


def server_error(request):
    return _page(
        request,
        500,
        "Something broke on our side",
        "What you had stored is safe. Try again; if it happens again, tell whoever runs this server when it was.",
    )


def _page(request, status: int, heading: str, text: str):
    return render(request, "error.html", {"status": status, "heading": heading, "text": text, "plain": status == 500}, status=status)
