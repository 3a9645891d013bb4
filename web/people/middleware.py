"""Ties every request to the holding its user works on."""

from functools import cached_property

from web.people.models import Holding, Membership


class Place:
    """Where a request works: the membership, its holding and the units to show; asked of the database once, when first needed."""

    def __init__(self, user):
        self._user = user

    @cached_property
    def membership(self) -> Membership | None:
        if not self._user.is_authenticated:
            return None
        return Membership.objects.select_related("holding").filter(user=self._user).order_by("pk").first()

    @property
    def holding(self) -> Holding | None:
        return self.membership.holding if self.membership else None

    @property
    def units(self) -> str:
        if self.membership is None:
            return Holding.Units.METRIC
        return self.membership.units or self.holding.units


class HoldingMiddleware:
    """Gives every request its `place`."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        request.place = Place(request.user)
        return self.get_response(request)
