"""Sayings beside a choice: one quiet line, and none that a person has waved off."""

from agronomy.tables.rooms.watch import Claim


def not_waved_off(claim: Claim | None, place) -> Claim | None:
    member = place.membership
    return None if claim is None or (member is not None and claim.key in member.waved_off) else claim
