"""A plan and its letter as the critic reads them, for who asks about a request."""

from agronomy.base.said import Reader
from agronomy.critic.fault import Fault
from agronomy.critic.letter_faults import letter_faults
from agronomy.model.request import Request
from agronomy.plan.assess import assess
from agronomy.plan.letter import head_of, letter
from agronomy.plan.plan import make_plan
from agronomy.plan.signing import facts_for_critic
from agronomy.tables import Tables


def criticised(request: Request, tables: Tables) -> tuple[Fault, ...]:
    """All that keeps the plan of a request and its letter from being signed. Source: own-experience.

    Rates in kg/ha.

    >>> from agronomy.intake.example import bed, tables
    >>> criticised(bed(), tables)
    ()
    """
    plan = make_plan(request, tables)
    reader = Reader(request.units, today=request.today)
    text = letter(plan, plot=request.plot.name, crop=request.crop.name, reader=reader, head=head_of(request)).text
    return (*plan.not_ready, *letter_faults(plan, facts_for_critic(assess(request, tables)), text))
