"""Ties every request to the holding its user works on."""

from functools import cached_property

from web.date_format import keep_habit
from web.local_units import keep_place
from web.people.models import Holding, Membership
from web.people.roles import check, may
from web.sentences import keep_units


class Place:
    """Where a request works: the membership, its holding and the units to show; asked of the database once, when first needed."""

    def __init__(self, user, session=None):
        self._user, self._session = user, session

    @cached_property
    def memberships(self) -> list[Membership]:
        """All places of this person, the one worked on first."""
        if not self._user.is_authenticated:
            return []
        chosen = self._session.get("holding") if self._session is not None else None
        rows = Membership.objects.select_related("holding").filter(user=self._user).order_by("pk")
        return sorted(rows, key=lambda row: row.holding_id != chosen)

    @property
    def membership(self) -> Membership | None:
        return self.memberships[0] if self.memberships else None

    @property
    def role(self) -> str:
        return self.membership.role if self.membership else ""

    @property
    def holding(self) -> Holding | None:
        return self.membership.holding if self.membership else None

    def may(self, page: str, method: str) -> bool:
        """Whether this person reaches an address (its name with its room) by a method; nobody on no holding does."""
        at = self.membership
        return at is not None and may(at.role, page, method, enters=at.holding.adviser_enters)

    @property
    def units(self) -> str:
        if self.membership is None:
            return str(Holding.Units.METRIC)
        return self.membership.units or self.membership.holding.units


class HoldingMiddleware:
    """Gives every request its `place`, and keeps members to what their role reaches."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        request.place = Place(request.user, request.session)
        holding = request.place.holding
        keep_habit(holding.days if holding else "day")
        keep_units(request.place.units)
        keep_place(holding.country if holding else "", holding.units if holding else "metric")
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        check(request)
