"""Server time of pages beside a bare Django page with one query, interleaved in one run."""

import statistics
import time

from django.core.cache import cache
from django.test import Client

from web.unchanged import unchanged

ROUNDS = 150


def medians(client: Client, addresses: dict[str, str], afresh: set[str]) -> dict[str, float]:
    """Median milliseconds for each address; they take turns, so that a busy machine burdens all alike.

    Pages named in `afresh` are asked for with nothing kept; the others were asked for just before.
    """
    times: dict[str, list[float]] = {name: [] for name in addresses}
    for round_number in range(ROUNDS + 10):
        for name, address in addresses.items():
            if name in afresh:
                cache.clear()
                unchanged.clear()
            else:
                client.get(address)
            start = time.perf_counter()
            response = client.get(address)
            taken = time.perf_counter() - start
            assert response.status_code == 200, address
            if round_number >= 10:  # the first rounds warm the templates
                times[name].append(1000 * taken)
    return {name: statistics.median(values) for name, values in times.items()}
