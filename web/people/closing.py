"""Closing an account for good, and what has to be settled before."""

from django.db import transaction

from web.people.leaving import end_invitations
from web.people.models import Holding, Membership, User
from web.people.sessions import end, open_sessions


def only_owner_of(user: User) -> list[Holding]:
    """The holdings that would be left without an owner."""
    owned = user.memberships.filter(role=Membership.Role.OWNER).select_related("holding")
    return [row.holding for row in owned if not row.holding.memberships.filter(role=Membership.Role.OWNER).exclude(pk=row.pk).exists()]


@transaction.atomic
def close_account(user: User) -> None:
    """Takes a person away; what they wrote on holdings of others stays, without their name behind it."""
    end(open_sessions(user))
    for membership in user.memberships.select_related("holding"):
        end_invitations(membership.holding, user)
    user.delete()
