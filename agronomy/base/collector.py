"""Python's cycle collector, kept from walking what holds no cycles."""

import gc


def spare_the_collector() -> None:
    """Keeps Python's cycle collector from walking tables and plans over and over.

    Plans hold no cycles, so counting references frees them; the collector only finds out, at half the running time.
    """
    gc.freeze()
    gc.set_threshold(100_000, 50, 50)
