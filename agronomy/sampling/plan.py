"""A sampling plan for one plot or zone: how many cores, how deep, when, and whether to wait."""

from datetime import date, timedelta
from math import ceil

from agronomy.base.errors import UnknownName
from agronomy.base.record import record
from agronomy.base.uncertainty import HALF_WIDTH_80
from agronomy.base.working import Figure, Step
from agronomy.model.seasons import Window, add_months
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.sampling import Cores as CoresRow
from agronomy.tables.rooms.sampling import SamplingDepth

VARIABILITIES = ("even", "ordinary", "patchy")


@record
class Cores:
    """How many cores make one sample, into how many samples the ground is better parted, and why."""

    count: int
    samples: int
    steps: tuple[Step, ...]
    why: str


def cores_row(kind: str, tables: Tables) -> CoresRow:
    """The row of cores.csv for a kind of ground; raises UnknownName. Source: sampling-guide.

    Its spread stands in %.

    >>> from agronomy.intake.example import tables
    >>> cores_row("bed", tables).usual
    10.0
    """
    for row in tables.sampling.cores.values():
        if kind in row.kinds:
            return row
    raise UnknownName("kind", kind, "no rule says how many cores this kind of ground wants", "take 10")


def cores_wanted(kind: str, area_m2: float, variability: str, tables: Tables) -> Cores:
    """Cores for one composite: n = (1.28 s / e)², kept within what guides say for this kind. Source: sampling-guide.

    A large field is better parted into several samples; ground up to a few square metres takes fewer cores.
    Area in m2, spread in %.

    >>> from agronomy.tables import load_tables
    >>> cores_wanted(kind="bed", area_m2=18.0, variability="ordinary", tables=load_tables()).count
    11
    """
    if variability not in VARIABILITIES:
        raise UnknownName("variability", variability, "the ground is even, ordinary or patchy", "choose one of the three")
    row, figures = cores_row(kind, tables), tables.sampling
    spread, error = figures.spread(variability).value, figures.error_wanted.value
    wanted = (HALF_WIDTH_80 * spread / error) ** 2
    count = int(min(max(ceil(wanted), row.least), row.most))
    if area_m2 < 4:
        count = min(count, max(4, ceil(area_m2 * 2)))
    samples = ceil(area_m2 / row.up_to_m2) if row.up_to_m2 else 1
    step = Step(
        "cores",
        "cores that bring the error down, within what guides say",
        {
            "spread of pH": Figure(spread, "pH"),
            "error wanted": Figure(error, "pH"),
            "errors in the band": Figure(HALF_WIDTH_80),
            "least": Figure(row.least),
            "most": Figure(row.most),
        },
        Figure(count),
        f"within-bed-spread;{row.source}",
        row.where,
    )
    why = f"{count} cores in one bucket" if samples == 1 else f"{count} cores for each of {samples} samples: the field is too large for one"
    return Cores(count, samples, (step,), why)


@record
class Slice:
    """A layer to sample [cm], and why."""

    top_cm: float
    bottom_cm: float
    because: str
    source: str
    where: str


def slices(kind: str, *, dug: bool, depth_cm: float, is_grass: bool, nitrate: bool, tables: Tables) -> tuple[Slice, ...]:
    """The layers to sample, topmost first: by kind, tillage and whether nitrate is wanted. Source: sampling-guide.

    Depths in cm.

    >>> from agronomy.intake.example import tables
    >>> slices("bed", dug=True, depth_cm=20, is_grass=False, nitrate=False, tables=tables)[0].bottom_cm
    20
    """
    if kind in ("lawn", "pasture", "tree", "container"):
        keys = [kind]
    elif is_grass:
        keys = ["pasture"]
    elif kind == "orchard_block":
        keys = ["tree"]
    else:
        keys = ["dug"] if dug else ["undug_top", "dug"]
    keys += ["nitrate_top", "nitrate_deep"] if nitrate else []
    return tuple(_slice(tables.sampling.depths[key], depth_cm) for key in keys)


def _slice(row: SamplingDepth, depth_cm: float) -> Slice:
    return Slice(row.top_cm, row.bottom_cm or depth_cm, row.because, row.source, row.where)


def same_season(last_taken: date | None, today: date, tables: Tables) -> Window | None:
    """The next days around which the last sample was taken, so that seasons do not pass for changes; None for a first sample.

    Source: sampling-guide.
    In days.
    """
    if last_taken is None:
        return None
    half = timedelta(days=int(tables.sampling.season_half_width_days.value))
    day = add_months(last_taken, 12)
    while day + half < today:
        day = add_months(day, 12)
    return Window(day - half, day + half)


def wait_until(last_dressing: date | None, tables: Tables) -> date | None:
    """The first day on which a sample shows the soil and not the last lime or fertilizer. Source: sampling-guide.

    In days.

    >>> from agronomy.tables import load_tables
    >>> str(wait_until(date(2026, 4, 1), load_tables()))
    '2026-05-27'
    """
    return last_dressing and last_dressing + timedelta(days=int(tables.sampling.wait_after_dressing_days.value))


def retest_due(last_taken: date, crop: Crop | None, *, is_light: bool, kind: str, ph_changed: bool, tables: Tables) -> date:
    """When to test again: sooner on light ground and in pots, a year after lime or sulfur, else as the guide says. Source: retest-guide.

    In days.

    >>> from agronomy.tables import load_tables
    >>> str(retest_due(date(2026, 10, 3), None, is_light=False, kind="bed", ph_changed=True, tables=load_tables()))
    '2027-10-03'
    """
    rule = tables.timing.retest
    if ph_changed or kind == "container":
        months = rule.months_after_ph_change
    elif is_light or (crop is not None and crop.group == "vegetables"):
        months = rule.months_light
    else:
        months = rule.months_other
    return add_months(last_taken, months)


def state_of(*, taken: date | None, sent: date | None, arrived: date | None, today: date, tables: Tables) -> str:
    """Where a sample stands: planned, taken, sent, overdue or in.

    Sent longer ago than a laboratory usually takes is overdue. Source: own-experience.
    In days.

    >>> from agronomy.intake.example import tables
    >>> state_of(taken=None, sent=None, arrived=None, today=date(2027, 3, 1), tables=tables)
    'planned'
    """
    if arrived:
        return "in"
    if sent:
        late = sent + timedelta(days=int(tables.sampling.overdue_after_days.value))
        return "overdue" if late < today else "sent"
    return "taken" if taken else "planned"
