"""What stands on the list of jobs, for the shed and the list of what to buy: plans, programmes and desks alike."""

from agronomy.products.buying import Use
from web.jobs.models import Job
from web.prepared import Prepared
from web.supplies.wanted import source_of_uses

_USES: Prepared[tuple] = Prepared(
    lambda holding: (
        Job.objects.filter(holding=holding, state=Job.State.OPEN, kg__gt=0)
        .exclude(material="")
        .values_list("material", "kg", "plot__name", "from_day")
    )
)


@source_of_uses
def on_the_list(holding) -> list[Use]:
    """All open jobs that take a material."""
    return [Use(*row) for row in _USES(holding.pk)]
