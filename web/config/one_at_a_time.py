"""One change at a time in a holding: what a page checks before it writes is still true when it writes.

Every request that may change something runs as one transaction that first takes hold of its holding's row. Two people who close the same
job, take from the same lot or adopt the same proposal come one after the other, and the second sees what the first did. Holdings do not
wait for each other where the database locks rows; SQLite lets one writer in at a time anyhow. Where anything breaks, nothing is kept.
"""

from django.db import transaction

from web.overview.errors import bad_request, too_much
from web.people.holding_lock import hold
from web.people.quotas import QuotaReached
from web.people.signing.urls import urlpatterns as signing_in

READS = ("GET", "HEAD", "OPTIONS")
# work for long, and lock only where they write
BY_ITSELF = {"readings:files", "readings:file_step", "planning:use_holding_bags", "desks:holding_means", "archive"}
OF_ONESELF = {address.name for address in signing_in}  # touches no holding; and what it raises, its own middleware has to meet


class OneAtATimeMiddleware:
    """Runs the pages that write as one transaction each, under the lock of their holding. Stands last, next to the page."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        if request.method in READS or not request.user.is_authenticated or request.resolver_match.view_name in OF_ONESELF | BY_ITSELF:
            return None
        holding = request.place.holding
        try:
            with transaction.atomic():
                if holding is not None:
                    hold(holding.pk)
                return view(request, *args, **kwargs)
        except (QuotaReached, OverflowError) as error:  # a page run from here is out of reach for what answers this otherwise
            return self.process_exception(request, error)

    def process_exception(self, request, error):
        """Also for the pages that lock by themselves: a full holding is told, a number beyond the database is no fault of ours."""
        if isinstance(error, QuotaReached):
            return too_much(request, error.says)
        return bad_request(request, error) if isinstance(error, OverflowError) else None
