"""Who knocks: the token's person in their holding, with the rights of their role; and writes that are done once."""

import hashlib
from collections.abc import Callable
from copy import copy
from datetime import timedelta

from django.db import transaction
from django.utils import timezone
from ninja.errors import HttpError
from ninja.security import HttpBearer
from ninja.throttling import AuthRateThrottle

from web.api.models import ApiToken, ApiWrite
from web.people.holding_lock import hold
from web.people.middleware import Place
from web.people.quotas import QuotaReached
from web.people.tokens import digest

KEPT = timedelta(days=7)


class ByToken(HttpBearer):
    """`Authorization: Bearer TOKEN`. The request then has the token's person and place, as a page has them."""

    def authenticate(self, request, token: str) -> ApiToken | None:
        found = ApiToken.objects.select_related("user", "holding").filter(token_sha256=digest(token), user__is_active=True).first()
        if found is None:
            return None
        request.user, request.is_api = found.user, True
        request.place = Place(found.user, {"holding": found.holding_id})
        if request.place.holding != found.holding:  # the person is no longer on that holding
            return None
        today = timezone.localdate()
        if found.used_on != today:
            ApiToken.objects.filter(pk=found.pk).update(used_on=today)
        return found


class ByTokenThrottle(AuthRateThrottle):
    """So many requests in a while for each token: by its key in the database, for names are anybody's to choose."""

    def get_cache_key(self, request) -> str:
        return self.cache_format % {"scope": "token", "ident": request.auth.pk}

    def allow_request(self, request) -> bool:
        own = copy(self)  # what it counts with stands on the object itself, and two requests may come at once
        allowed = super(ByTokenThrottle, own).allow_request(request)
        self.history, self.now = own.history, own.now  # for what is said of when to come again
        return allowed


def allow(request, page: str, method: str = "GET") -> None:
    """Raises 403 where the person's role would not reach the page of the same use, or the token only reads."""
    request.acts_as = page
    if method != "GET" and request.auth.scope != ApiToken.Scope.WRITE:
        raise HttpError(403, "This token only reads. Make one that may write.")
    if not request.place.may(page, method):
        membership = request.place.membership
        raise HttpError(403, f"As {membership.get_role_display()} of {membership.holding} you don't reach this. Ask its owner.")


def once(request, act: Callable[[], dict]) -> dict:
    """Does a write once, under the lock of the holding: the same key, or without one the same content, is answered as before.

    What is written about must be read in `act`: before the lock, another may still be changing it.
    """
    key = request.headers.get("Idempotency-Key", "")[:200]
    digest = hashlib.sha256(b"\x00".join((request.path.encode(), key.encode(), b"" if key else request.body))).hexdigest()
    try:
        with transaction.atomic():
            hold(request.place.holding.pk)
            ApiWrite.objects.filter(token=request.auth, at__lt=timezone.now() - KEPT).delete()
            before = ApiWrite.objects.filter(token=request.auth, digest=digest).first()
            if before is not None:
                return before.answer | {"repeated": True}
            answer = act()
            ApiWrite.objects.create(token=request.auth, digest=digest, answer=answer)
            return answer | {"repeated": False}
    except QuotaReached as error:
        raise HttpError(413, error.says) from error
