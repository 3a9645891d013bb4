"""What doing a job on a day would break, out of the holding's own rules and the plot's log."""

from datetime import date

from agronomy.schedule.intervals import Breach, Put, breaches, longest_interval, stock_off_until, too_soon
from web.core import tables
from web.jobs.models import Job
from web.jobs.unavailable_days import closed_of
from web.records.selectors import log_of


def breaches_of(job: Job, day: date) -> list[Breach]:
    """Closed seasons, raw manure before the harvest of what stands on the plot, and what was spread there lately."""
    material = tables().materials.get(job.material)
    if material is None:
        return []
    planting = job.plot.planting
    crop = tables().crops.get(planting.crop) if planting else None
    harvest = planting.ended_on if planting else None
    broken = breaches(material, day, tables(), harvest=harvest, group=crop.group if crop else "", closed=closed_of(job.holding))
    return broken + too_soon(material, job.way, day, _lately(job, day), tables())


def _lately(job: Job, day: date) -> list[Put]:
    known = tables().materials
    entries = log_of(job.holding).filter(plot=job.plot, done_on__gte=day - longest_interval(tables()))
    return [Put(known[entry.material], entry.done_on, entry.way) for entry in entries if entry.material in known]


def stock_off(job: Job, day: date) -> date | None:
    """Until when stock is kept off, on plots that have some."""
    material = tables().materials.get(job.material)
    return stock_off_until(material, day, tables()) if material is not None and job.plot.livestock else None
