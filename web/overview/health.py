"""Whether the server is well: for a watchdog, without signing in and without a word about anybody."""

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.http import HttpResponse
from django.views.decorators.cache import never_cache

from agronomy import __version__


@login_not_required
@never_cache
def health(request):
    """200 and "well" where the database answers; else 503 and what does not."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1 FROM people_holding LIMIT 1")
    except DatabaseError:
        return HttpResponse("the database does not answer\n", status=503, content_type="text/plain")
    return HttpResponse(f"well, version {__version__}\n", content_type="text/plain")
