"""What stands on the list of jobs, for the shed and the list of what to buy: plans, programmes and desks alike."""

from agronomy.products.buying import Use
from web.jobs.models import Job
from web.supplies.wanted import source_of_uses


@source_of_uses
def on_the_list(holding) -> list[Use]:
    """All open jobs that take a material."""
    jobs = Job.objects.filter(holding=holding, state=Job.State.OPEN, kg__gt=0).exclude(material="").select_related("plot")
    return [Use(job.material, job.kg, job.plot.name, job.from_day) for job in jobs]
