"""The lock of a holding: whoever changes something in it comes one after the other."""

from web.people.models import Holding


def hold(pk: int) -> None:
    """Takes hold of a holding until the transaction ends.

    The row is asked for, not only locked: SQLite locks with the first statement that is sent.
    """
    Holding.objects.select_for_update().filter(pk=pk).values_list("pk").first()
