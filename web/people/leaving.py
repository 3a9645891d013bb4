"""What ends with a person's place on a holding: invitations, tokens, the calendar's address. None of it comes alive when they rejoin."""

from web.people.models import Holding, Membership, User

# What opens a holding to one person, as the holding names it, and the field that says whom.
OWN_KEYS = {"api_tokens": "user", "feeds": "person"}


def take_off(membership: Membership) -> int:
    """Takes a person off a holding; how many open invitations ended with it.

    A link is addressed to nobody: any that is open may be in the hands of who leaves, so all of them end.
    """
    holding, user = membership.holding, membership.user
    for name, whose in OWN_KEYS.items():
        getattr(holding, name).filter(**{whose: user}).delete()
    ended = end_invitations(holding)
    membership.delete()
    return ended


def end_invitations(holding: Holding, made_by: User | None = None) -> int:
    """Ends open invitations, all or those that one person made; how many."""
    found = holding.invitations.filter(used_at=None)
    return (found if made_by is None else found.filter(made_by=made_by)).delete()[0]
