"""Reading for long while others write."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection, transaction


@contextmanager
def one_moment() -> Iterator[None]:
    """All that is read inside is read as it stood at one moment, and nobody who writes waits for it.

    Transactions of this house lock what they may write (settings, one_at_a_time.py); this one only looks. Inside another transaction it
    sees what that one sees.
    """
    if connection.in_atomic_block:
        yield
    elif connection.vendor == "sqlite":
        connection.ensure_connection()
        usual, connection.transaction_mode = connection.transaction_mode, "DEFERRED"
        try:
            with transaction.atomic():
                yield
        finally:
            connection.transaction_mode = usual
    else:
        with transaction.atomic():
            with connection.cursor() as cursor:
                cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ")
            yield
