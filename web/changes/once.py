"""A form that is sent twice is done once: every form carries a key of its own, and the answer to it is kept for a day.

The key goes into each form beside the one against forgery, so that no form has to think of it. The same key with the same content is
answered by the page that the first led to; with other content it is a new form (somebody went back and changed it). What was refused
may be sent again. Parts that a page fetches while one types have no such key.
"""

import hashlib
import re
import time
import uuid
from datetime import timedelta

from django.db import IntegrityError, transaction
from django.shortcuts import redirect, render
from django.utils import timezone

from web.changes.models import SentForm

FIELD = "once"
_FORGERY = re.compile(rb'<input type="hidden" name="csrfmiddlewaretoken" value="[^"]*">')
WAITS_S, STEP_S = 8.0, 0.1
DEAD_AFTER = timedelta(minutes=5)  # no request takes so long: the one that began it was killed
KEPT, SWEEP_EVERY = timedelta(hours=24), 200


class OnceMiddleware:
    """Puts the keys into pages and answers what was sent before."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        key = request.POST.get(FIELD, "") if request.method == "POST" and request.user.is_authenticated and not request.htmx else ""
        if not key:
            return _with_keys(request, self.get_response(request))
        digest = _digest(request, key)
        try:
            with transaction.atomic():
                sent = SentForm.objects.create(user=request.user, digest=digest)
        except IntegrityError:
            return _answered(request, digest) or _with_keys(request, self.get_response(request))
        if sent.pk % SWEEP_EVERY == 0:
            _forget_old()
        try:
            response = self.get_response(request)
        except BaseException:
            sent.delete()
            raise
        if 300 <= response.status_code < 400:
            SentForm.objects.filter(pk=sent.pk).update(led_to=response.headers["Location"])
        else:
            sent.delete()
        return _with_keys(request, response)


def _digest(request, key: str) -> str:
    """What was sent, by key, page, fields and files."""
    fields = sorted((name, values) for name, values in request.POST.lists() if name != "csrfmiddlewaretoken")
    files = [(name, file.name, file.size) for name, found in sorted(request.FILES.lists()) for file in found]
    return hashlib.sha256(repr((request.user.pk, key[:80], request.path, fields, files)).encode()).hexdigest()


def _answered(request, digest: str):
    """The page that the first sending led to; waits while it is under way, and then says so. None where it came to nothing."""
    SentForm.objects.filter(digest=digest, led_to="", at__lt=timezone.now() - DEAD_AFTER).delete()
    until = time.monotonic() + WAITS_S
    while time.monotonic() < until:
        sent = SentForm.objects.filter(digest=digest).first()
        if sent is None:
            return None
        if sent.led_to:
            return redirect(sent.led_to)
        time.sleep(STEP_S)
    told = {
        "status": 409,
        "heading": "It is still being worked on",
        "text": "What you sent has arrived and is being done. Look in a moment.",
    }
    return render(request, "error.html", told, status=409)


def _with_keys(request, response):
    if request.user.is_authenticated and not response.streaming and response.headers.get("Content-Type", "").startswith("text/html"):
        key = f'<input type="hidden" name="{FIELD}" value="{uuid.uuid4().hex}">'.encode()
        response.content = _FORGERY.sub(lambda found: found[0] + key, response.content)
    return response


def _forget_old() -> None:
    """Takes out what was sent more than a day ago."""
    SentForm.objects.filter(at__lt=timezone.now() - KEPT).delete()
