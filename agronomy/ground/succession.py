"""Which crop follows which: a warning where a family comes back too soon, and the steps that make new ground a plot."""

from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.tables import Tables


@record
class Stand:
    """A crop on a plot from one day to another; `ends` is None while it stands."""

    crop: str
    begins: date
    ends: date | None


@record(kw_only=True)
class PoorFollower:
    """A crop that comes too soon after one of its family, in words, with the row it rests on."""

    crop: str
    after: str
    years: float
    wanted_years: float
    text: str
    source: str
    where: str
    status: str


def poor_followers(stands: list[Stand], tables: Tables) -> list[PoorFollower]:
    """A warning for each stand whose family grew on this plot too recently, the latest stand first. Source: rotation-guide.

    Gaps in years, from days.

    >>> from agronomy.intake.example import tables
    >>> poor_followers([], tables)
    []
    """
    ordered = sorted(stands, key=lambda stand: (stand.begins, stand.crop))
    found = [warning for place, stand in enumerate(ordered) if (warning := _warning(stand, ordered[:place], tables))]
    return found[::-1]


def _warning(stand: Stand, before: list[Stand], tables: Tables) -> PoorFollower | None:
    crop = tables.crops.get(stand.crop)
    rule = tables.ground.rotation.get(crop.family) if crop and crop.family else None
    if rule is None or crop is None or not rule.years_between:
        return None
    for earlier in reversed(before):
        same = tables.crops.get(earlier.crop)
        if same is None or same.family != crop.family or (earlier.crop == stand.crop and crop.is_perennial):
            continue
        gap = (stand.begins - (earlier.ends or earlier.begins)).days / 365.25
        if gap < rule.years_between:
            was = tables.crops[earlier.crop].name
            text = (
                f"{crop.name[0].upper()}{crop.name[1:]} comes {_gap(gap)} after {was}, both of the {rule.spoken}: {rule.because}. "
                f"Leave {rule.years_between:.0f} years between them, or choose another plot."
            )
            return PoorFollower(
                crop=stand.crop,
                after=earlier.crop,
                years=round(gap, 1),
                wanted_years=rule.years_between,
                text=text,
                source=rule.source,
                where=rule.where,
                status=rule.status,
            )
        return None
    return None


def _gap(years: float) -> str:
    months = round(years * 12)
    if months <= 0:
        return "straight"
    return f"{months} month{'s' if months != 1 else ''}" if months < 24 else f"{years:.0f} years"


@record
class NewGroundStep:
    """One step on the way from rough land to a plot."""

    key: str
    say: str
    on: date
    caution: str


def new_ground_steps(begins: date, tables: Tables) -> list[NewGroundStep]:
    """The steps with their days, counted from the day the work begins. Source: new-ground-guide.

    >>> from agronomy.intake.example import tables
    >>> len(new_ground_steps(date(2027, 3, 1), tables)) > 2
    True
    """
    return [NewGroundStep(row.key, row.say, begins + timedelta(weeks=row.week), row.caution) for row in tables.ground.new_ground.step]
