"""The weather of a holding's place, through the service named in the settings, and the days that serve for a job."""

from datetime import date
from importlib import import_module

from django.conf import settings
from django.template.loader import render_to_string

from agronomy.model.climate import Climate, climate_of, own_climate
from agronomy.model.labour import LabourCalendar
from agronomy.schedule.gates import Verdict, Weather, good_days, warmed, work_of
from agronomy.schedule.usual_days import TodayIs, usual_days
from web.core import tables
from web.jobs.models import Job
from web.jobs.unavailable_days import hands_of
from web.sensors.selectors import soil_warmth

DAYS = 7


def climate_for(holding) -> Climate | None:
    """One's own months before a place of the table; None where neither is said."""
    own = holding.own_climate
    if own:
        frosts = [date.fromisoformat(own[name]) if own.get(name) else None for name in ("last_frost", "first_frost")]
        return own_climate("your own", own["warmth_c"], own["rain_mm"], *frosts)
    return climate_of(holding.climate, tables()) if holding.climate in tables().climate.climates else None


def weather_of(holding, first: date, today_is: TodayIs | None = None) -> list[Weather] | None:
    """The days ahead by the service of the settings, else as they usually are; None where the holding's climate is not said."""
    climate = climate_for(holding)
    if climate is None:
        return None
    service = _service()
    if service is None:
        return usual_days(climate, first, DAYS, tables(), today=today_is)
    return service(climate, f"{holding.pk}").days(first, DAYS)


def _service():
    """The class of the weather service in the settings; None where there is none."""
    if not settings.FORECAST:
        return None
    module, _, name = settings.FORECAST.partition(":")
    return getattr(import_module(module), name)


def service_name() -> str:
    """Who foretells the days, in words; nothing where nobody does."""
    service = _service()
    return "" if service is None else getattr(service, "NAME", service.__name__)


class Days:
    """The days ahead and which of them serve for jobs. Many jobs are alike: each kind of work on each kind of ground is judged once."""

    def __init__(self, forecast: list[Weather], hands: LabourCalendar, today: date, warmth: dict[int, float] | None = None):
        self.forecast, self.hands, self.today = forecast, hands, today
        self.warmth = warmth or {}  # of the soil now, by plot, where a sound probe measures it
        self._judged: dict[tuple, list[dict]] = {}
        self._strips: dict[str, str] = {}

    def of(self, job: Job) -> list[dict]:
        """Each day ahead within the job's window, or from now on for an overdue one: whether it serves, and why not."""
        material = tables().materials.get(job.material)
        if material is None:
            return []
        work = "leaf" if job.way == "leaf" else "drench" if job.way == "water" else work_of(material, job.what, tables())
        measured = self.warmth.get(job.plot_id)
        key = work, job.plot.slope_pct, job.plot.water_distance_m, measured
        if key not in self._judged:
            forecast = self.forecast if measured is None else warmed(self.forecast, measured)
            verdicts = good_days(work, forecast, tables(), slope_pct=job.plot.slope_pct, water_m=job.plot.water_distance_m)
            self._judged[key] = [self._told(verdict) for verdict in verdicts]
        last = job.to_day if job.to_day >= self.today else self.forecast[-1].day
        return [row for row in self._judged[key] if job.from_day <= row["day"] <= last]

    def strip_of(self, job: Job) -> str:
        """The days of a job as a strip for a list; a strip that many jobs share is drawn once."""
        rows = self.of(job)
        key = repr(rows)
        if rows and key not in self._strips:
            self._strips[key] = render_to_string("jobs/_days.html", {"days": rows})
        return self._strips.get(key, "")

    def _told(self, verdict: Verdict) -> dict:
        why_not = [*verdict.why_not, *(() if self.hands.free(verdict.day) else ("day off",))]
        return {"day": verdict.day, "good": not why_not, "why_not": "; ".join(why_not)}


def days_of(holding, today: date, today_is: TodayIs | None = None) -> Days | None:
    """The Days of a holding; None where its climate is not said."""
    forecast = weather_of(holding, today, today_is)
    return None if forecast is None else Days(forecast, hands_of(holding), today, soil_warmth(holding))
