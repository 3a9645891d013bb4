"""The weather of a holding's place, through the service named in the settings, and the good days for a job."""

from datetime import date
from importlib import import_module

from django.conf import settings

from agronomy.schedule.climate import Climate, climate_of, own_climate
from agronomy.schedule.gates import Weather, good_days, work_of
from web.core import tables
from web.jobs.models import Job

DAYS = 7


def climate_for(holding) -> Climate | None:
    """One's own months before a place of the table; None where neither is said."""
    own = holding.own_climate
    if own:
        frosts = [date.fromisoformat(own[name]) if own.get(name) else None for name in ("last_frost", "first_frost")]
        return own_climate("your own", own["warmth_c"], own["rain_mm"], *frosts)
    return climate_of(holding.climate, tables()) if holding.climate in tables().climates else None


def weather_of(holding, first: date) -> list[Weather] | None:
    """The days ahead; None where the holding's climate is not said."""
    climate = climate_for(holding)
    if climate is None:
        return None
    module, _, name = settings.FORECAST.partition(":")
    service = getattr(import_module(module), name)
    return service(climate, f"{holding.pk}").days(first, DAYS)


def good_days_of(job: Job, forecast: list[Weather], today: date) -> list[dict]:
    """Each day ahead within the job's window, or from now on for an overdue one: whether it serves, and why not."""
    material = tables().materials.get(job.material)
    if material is None:
        return []
    plot = job.plot
    verdicts = good_days(work_of(material, job.what, tables()), forecast, tables(), slope_pct=plot.slope_pct, water_m=plot.water_distance_m)
    last = job.to_day if job.to_day >= today else forecast[-1].day
    return [{"day": verdict.day, "good": verdict.good, "why_not": "; ".join(verdict.why_not)} for verdict in verdicts if job.from_day <= verdict.day <= last]
