"""What the adopted plans still have to spread, for the shed and the list of what to buy."""

from django.utils import timezone

from agronomy.intake.documents import dressings_in
from agronomy.products.buying import Use
from web.planning.models import AdoptedPlan
from web.supplies.wanted import source_of_uses


@source_of_uses
def planned(holding) -> list[Use]:
    """What the latest adopted plan of every plot still has to spread."""
    today = timezone.localdate()
    latest: dict[int, AdoptedPlan] = {}
    for plan in AdoptedPlan.objects.filter(plot__holding=holding).select_related("plot").order_by("adopted_at", "pk"):
        latest[plan.plot_id] = plan
    return [
        Use(dressing.material, dressing.total_kg, plan.plot.name, dressing.day)
        for plan in latest.values()
        for dressing in dressings_in(plan.result)
        if dressing.last_day is None or dressing.last_day >= today
    ]
