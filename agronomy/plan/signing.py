"""What the critic is told of a request, beside the plan that it reads."""

from agronomy.critic.fault import Facts
from agronomy.plan.assess import Assessment


def facts_for_critic(found: Assessment) -> Facts:
    """The facts of a request that a plan must agree with: days, area in m2, stock in kg. Source: definition.

    >>> from agronomy.intake.example import found
    >>> str(facts_for_critic(found()).planting)
    '2027-05-01'
    """
    request, calendar = found.request, found.calendar
    lasts_days = calendar.growth.stands_unit == "days"
    return Facts(
        today=request.today,
        planting=None if calendar.stands else calendar.anchor,
        ends=calendar.off_the_ground if lasts_days and not calendar.stands else None,
        perennial=not lasts_days,
        stands=calendar.stands,
        read=frozenset(found.readings),
        area_m2=request.plot.area_m2,
        apart=request.plot.ground in ("container", "bale"),
        free={key: line.in_stock_kg for key, line in request.shed.items() if line.price_per_kg == 0},
    )
