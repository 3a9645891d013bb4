"""Windows bent until every limit is kept: warm and dry ground, hands, closed seasons, the harvest, and materials that must lie apart.

Dressings take their turn as they are spread: lime, sulfur, manure, phosphate and potash, nitrogen last. One that has its window makes the
next ones keep their distance; where it can still be done sooner, it gives way instead.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import Measure, joined, large, say
from agronomy.dose.application import Application, say_placement
from agronomy.model.answers import ACIDITY
from agronomy.model.climate import first_warm_day, soaked_months, soil_warmth
from agronomy.products.compatibility import Clash, parting
from agronomy.schedule.gates import work_of
from agronomy.schedule.intervals import breaches
from agronomy.schedule.limits import Limits
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.climate import Gate

THAWED_C = 0.5  # above frozen
MOST_MOVES = 60
A_YEAR = timedelta(days=366)
DAY = timedelta(days=1)
BETWEEN_RAINS = say("The ground usually stands soaked in that time: take the first days that carry your weight.")


@record
class Conflict:
    """A job that no day of its window suits, with the nearest day that would, or None."""

    name: str
    window: tuple[date, date]
    why: str
    instead: date | None

    @property
    def says(self) -> str:
        """The conflict as a sentence with the nearest way out."""
        out = (
            say("the nearest suitable day is about {instead:%-d %b %Y}", instead=self.instead)
            if self.instead
            else say("no suitable day comes within a year")
        )
        return say(
            "{self_}, meant for {window:%-d %b} to {until:%-d %b}: {why}; {out}.",
            self_=large(self.name),
            window=self.window[0],
            until=self.window[1],
            why=self.why,
            out=out,
        )


@record
class _Push:
    """The first later day that one limit allows, and why; None where it allows no day within a year."""

    to: date | None
    kind: str
    why: str


@dataclass(slots=True)
class _Placed:
    """A material on the ground, or to be: its window, and where it stands among the results (None for what is done already)."""

    material: str
    name: str
    from_: date
    to: date
    place: int | None
    worked_in: bool = False


def place_alone(item: Application, limits: Limits, tables: Tables) -> tuple[Application, str]:
    """One application in a window that keeps the limits, and what to say where it could not be kept as it was meant.

    In days. Source: each limit's own.

    >>> from agronomy.intake.example import bed, soil, plan, tables
    >>> from agronomy.schedule.limits import limits_of
    >>> place_alone(plan().applications[0], limits_of(bed(), soil(), tables), tables)[0].what
    'CaCO3'
    """
    made, conflicts = arrange([item], limits, tables)
    return made[0], joined(conflict.says for conflict in conflicts)


def arrange(applications: list[Application], limits: Limits, tables: Tables) -> tuple[list[Application], list[Conflict]]:
    """The same applications in order of date, each in a window that keeps the limits, and what could not be kept as it was meant.

    Where the whole window had to give way, the job moves to the first day after it that serves and is told as a conflict, because something
    else may have hung on the earlier date. Source: weather-gates, compatibility-guide, spreading-order.
    In days. Source: each limit's own.

    >>> from agronomy.intake.example import bed, soil, plan, tables
    >>> from agronomy.schedule.limits import limits_of
    >>> len(arrange(list(plan().applications), limits_of(bed(), soil(), tables), tables)[0]) > 1
    True
    """
    return _Arranger(limits, tables).run(applications)


class _Arranger:
    def __init__(self, limits: Limits, tables: Tables):
        self.limits, self.tables = limits, tables
        self.soaked = self._soaked_months()
        self.placed = [_Placed(item.material.key, item.material.name, item.on, item.on, None) for item in limits.done]
        self.made: list[Application] = []
        self.latest: dict[tuple[str, str], date] = {}
        figures = tables.climate
        self.shortest = timedelta(days=figures.shortest_window_days.value)
        self.longest = timedelta(days=figures.longest_window_days.value)
        self.apart = timedelta(days=figures.apart_days.value)

    def _soaked_months(self) -> frozenset[int]:
        if self.limits.climate is None or self.limits.flooded or self.limits.covered:
            return frozenset()
        soil = self.limits.soil
        figures = self.tables.climate
        rain = figures.soaked_heavy_mm if soil.is_heavy else figures.soaked_light_mm if soil.is_light else figures.soaked_mm
        return soaked_months(self.limits.climate, rain.value)

    def run(self, applications: list[Application]) -> tuple[list[Application], list[Conflict]]:
        conflicts = []
        for item in sorted(applications, key=lambda item: (self._gate(item).turn, item.from_, item.material, item.dressing)):
            conflict = self._place(item)
            if conflict is not None:
                conflicts.append(conflict)
        return sorted(self.made, key=lambda item: (item.from_, item.material, item.dressing)), conflicts

    def _gate(self, item: Application) -> Gate:
        kept = ("gate", item.material, item.what)
        if kept not in self.tables.kept:
            self.tables.kept[kept] = self.tables.climate.gates[work_of(self.tables.materials[item.material], item.what, self.tables)]
        return self.tables.kept[kept]

    def _place(self, item: Application) -> Conflict | None:
        start, reasons, serves = item.from_, {}, True
        for _ in range(MOST_MOVES):
            push = next(self._pushes(item, start), None)
            if push is None:
                break
            reasons[push.kind] = push.why
            if push.to is None or push.to - item.from_ > A_YEAR:
                serves = False
                break
            start = push.to
        else:
            serves = False
        between_rains = serves and self._is_fed_between_rains(item, start, reasons)
        if not serves or between_rains:
            start = item.from_
        after = self._after_the_crop(item, start)
        if after is not None:
            return self._place(after)
        end = self._end(item, start)
        item, end = self._as_it_stands(item, start, end)
        why = self._note(start, reasons) if start > item.from_ else BETWEEN_RAINS if between_rains else ""
        note = joined((item.timing_note, why))
        stays = (start, end, note) == (item.from_, item.to, item.timing_note)
        self.made.append(item if stays else replace(item, from_=start, to=end, timing_note=note))
        worked_in = self.tables.timing.is_worked_in(item.placement_pattern)
        self.placed.append(_Placed(item.material, item.name, start, end, len(self.made) - 1, worked_in))
        self.latest[item.material, item.what] = start + self.apart
        if start <= item.to and serves:
            return None
        return Conflict(item.name, (item.from_, item.to), self._missed(item, reasons), start if serves else None)

    def _is_fed_between_rains(self, item: Application, start: date, reasons: dict[str, str]) -> bool:
        """Whether what only wet months would put off past its use goes on in its own window, on the first dry days.

        So does nitrogen of a stage, and what goes in with the seed, which is sown between rains too.
        """
        if "soaked" not in reasons or not set(reasons) <= {"soaked", "series"}:
            return False
        last, off = self.limits.worked_until, self.limits.off
        if last is not None and item.from_ <= last < start and item.what not in ACIDITY:
            return True
        if item.what != "N":
            return False
        late, figures = (start - item.to).days, self.tables.choice
        is_short = last is not None and off is not None and late > figures.nitrogen_late_share.value * (off - last).days
        return is_short or late > figures.nitrogen_days_late.value

    def _after_the_crop(self, item: Application, start: date) -> Application | None:
        """Lime or sulfur that would have to be worked in among what was sown: once the crop is off the ground."""
        last, off = self.limits.worked_until, self.limits.off
        if item.what not in ACIDITY or last is None or off is None or not last < start < off:
            return None
        if not self.tables.timing.is_worked_in(item.placement_pattern):
            return None
        note = say("Too late before this planting: after this crop.")
        return replace(item, from_=off + DAY, to=off + DAY + self.longest, timing_note=note)

    def _as_it_stands(self, item: Application, start: date, end: date) -> tuple[Application, date]:
        """What was to be worked in goes onto the surface once the crop is in the ground; before, its window ends with planting."""
        last = self.limits.worked_until
        if last is None or not self.tables.timing.is_worked_in(item.placement_pattern):
            return item, end
        if start <= last:
            return item, max(start, min(end, last))
        if item.what in ACIDITY and self.limits.off is not None and start >= self.limits.off:
            return item, end
        standing = self.limits.standing
        return replace(item, placement=say_placement(standing, item.depth_cm, "metric"), placement_pattern=standing), end

    def _pushes(self, item: Application, day: date) -> Iterator[_Push]:
        """What each limit says to a start on a day; nothing where it serves. The places of others come last: they may give way."""
        material = self.tables.materials[item.material]
        after = self.latest.get((item.material, item.what))
        if after is not None and day < after:
            yield _Push(after, "series", say("moved on with the dressing before it"))
        yield from self._cold_or_soaked(item, day)
        yield from self._too_soft(item, day)
        for breach in breaches(material, day, self.tables, harvest=self.limits.harvest, group=self.limits.group, closed=self.limits.closed):
            yield _Push(breach.first_day, breach.what, joined((breach.what, breach.why), ", "))
        if not self.limits.hands.free(day):
            yield _Push(self.limits.hands.first_free(day), "hands", say("the first of your working days after that"))
        yield from self._too_near(item, day)

    def _cold_or_soaked(self, item: Application, day: date) -> Iterator[_Push]:
        climate, row = self.limits.climate, self._gate(item)
        if climate is None or self.limits.covered:  # under film and glass the ground has a climate of its own
            return
        least = row.soil_above_c if row.soil_above_c is not None else THAWED_C
        warm = first_warm_day(day, least, climate, self.tables, grass=self.limits.grass)
        if warm is None or warm > day:
            yield _Push(warm, "cold", say("the soil is usually below {least:g} until then", least=Measure(least, "°C")))
        if day.month in self.soaked and not row.soaked_ok and len(self.soaked) < 12:
            while day.month in self.soaked:
                day += DAY
            yield _Push(day, "soaked", say("this ground usually stands soaked until then"))

    def _too_soft(self, item: Application, day: date) -> Iterator[_Push]:
        """No nitrogen on what has to harden before frost, until growth begins again. Source: timing-guide."""
        climate = self.limits.climate
        if not self.limits.hardens or item.what != "N" or climate is None or climate.first_frost is None or climate.last_frost is None:
            return
        figures = self.tables.climate
        before, ahead = timedelta(weeks=figures.last_nitrogen_weeks.value), timedelta(weeks=figures.woody_from_weeks.value)
        for year in (day.year - 1, day.year):
            stops = required(climate.first_frost_in(year)) - before
            wakes = min(wakes for wakes in (required(climate.last_frost_in(later)) - ahead for later in (year, year + 1)) if wakes > stops)
            if stops < day < wakes:
                yield _Push(wakes, "hardening", say("it would grow soft before frost"))

    def _too_near(self, item: Application, day: date) -> Iterator[_Push]:
        material = self.tables.materials[item.material]
        for other in self.placed:
            found = self._parting(material, other)
            if found is None:
                continue
            days = timedelta(days=found.days)
            is_near = other.from_ - days < day < other.to + days
            if is_near and not self._give_way(other, day - days, material.name):
                if other.to + days > item.to:  # what has months to go on doesn't keep another waiting through them
                    self._give_way(other, other.from_ + self.shortest, material.name)
                yield _Push(
                    other.to + days,
                    f"near {other.material}",
                    say("{days} days after {other}: {reason}", days=found.days, other=other.name, reason=found.reason),
                )

    def _parting(self, material: Material, other: _Placed) -> Clash | None:
        found = parting(material, self.tables.materials[other.material], self.tables)
        least = self.tables.products.pairs[found.row].days_worked_in if found is not None and other.worked_in else None
        if found is None or least is None:
            return found
        return replace(found, days=int(least)) if least else None

    def _give_way(self, other: _Placed, until: date, name: str) -> bool:
        """Ends another's window sooner, so that this one can follow in time; not where it would get too short, or is done."""
        if other.place is None or until < other.from_ + self.shortest:
            return False
        other.to = self.limits.hands.last_free(until, other.from_)
        made = self.made[other.place]
        note = say("By {end:%-d %b}, so that {name} can follow in time.", end=other.to, name=name)
        self.made[other.place] = replace(made, to=other.to, timing_note=joined((made.timing_note, note)))
        return True

    def _end(self, item: Application, start: date) -> date:
        """The last day: as it was meant where that leaves room, and never over a limit."""
        length = max(self.shortest, min(self.longest, item.to - item.from_))
        end = item.to if start == item.from_ or start + self.shortest <= item.to else start + length
        material = self.tables.materials[item.material]
        for other in self.placed:
            found = self._parting(material, other)
            if found is not None and other.from_ > start:
                end = min(end, max(start, other.from_ - timedelta(days=found.days)))
        if self.limits.closed or self.limits.harvest is not None:
            day = start
            while day < end and not breaches(
                material, day + DAY, self.tables, harvest=self.limits.harvest, group=self.limits.group, closed=self.limits.closed
            ):
                day += DAY
            end = day
        return self.limits.hands.last_free(end, start)

    def _note(self, start: date, reasons: dict[str, str]) -> str:
        if set(reasons) == {"series"}:
            return say("Moved on with the dressing before it.")
        return say("Not before about {start:%-d %b}: {names}.", start=start, names=joined(reasons.values(), "; "))

    def _missed(self, item: Application, reasons: dict[str, str]) -> str:
        if "cold" not in reasons:
            return joined(reasons.values(), "; ")
        warmth = soil_warmth(item.to, required(self.limits.climate), self.tables, grass=self.limits.grass)
        wanted = self._gate(item).soil_above_c or THAWED_C
        cold = say(
            "the soil has about {warmth:.0f} by {end:%-d %b}, {wanted:g} are needed",
            warmth=Measure(warmth, "°C"),
            end=item.to,
            wanted=wanted,
        )
        return joined([cold, *(why for kind, why in reasons.items() if kind != "cold")], "; ")
