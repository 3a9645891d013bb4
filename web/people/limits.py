"""How often strangers may do what costs something: signing up and asking for mail, from one address in an hour."""

from axes.helpers import get_client_ip_address
from django.conf import settings
from django.core.cache import cache

HOUR_S = 3600


def is_too_often(request, what: str) -> bool:
    """Counts one more; whether it is one too many. Every worker of the server counts for itself."""
    key = f"often-{what}-{get_client_ip_address(request)}"
    cache.add(key, 0, HOUR_S)
    try:
        return cache.incr(key) > settings.SIGN_UPS_AN_HOUR
    except ValueError:  # the hour ended between the two lines
        return False
