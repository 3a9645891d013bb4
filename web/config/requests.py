"""Around every request: an id that the log and the page share, private pages that no shared cache keeps, and numbers too large refused."""

import logging
import uuid

from django.utils.cache import patch_cache_control

from web.overview.errors import bad_request


class RequestIdMiddleware:
    """Gives each request an id: it stands in the answer's head, in the log's lines, and on the page where something broke."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        request.id = uuid.uuid4().hex[:12]
        response = self.get_response(request)
        response.headers["X-Request-ID"] = request.id
        return response


class WithRequestId(logging.Filter):
    """Puts the id of its request, and the page, into a line of the log."""

    def filter(self, record: logging.LogRecord) -> bool:
        request = getattr(record, "request", None)
        record.request_id = getattr(request, "id", "-")
        return True


class PrivatePagesMiddleware:
    """What somebody sees who is signed in is kept by no shared cache, and by no browser after they sign out."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        if request.user.is_authenticated and not response.has_header("Cache-Control"):
            patch_cache_control(response, private=True, no_store=True)
        return response


NOTHING = "\x00"


class UnstorableMiddleware:
    """Answers 400 to what no database takes: a zero byte in a text, or a whole number too large for a key."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        sent = [*request.GET.lists(), *request.POST.lists()]
        if any(NOTHING in text for name, values in sent for text in (name, *values)):
            return bad_request(request)
        return None

    def process_exception(self, request, exception):
        return bad_request(request, exception) if isinstance(exception, OverflowError) else None
