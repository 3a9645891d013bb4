"""Food through the drippers: dressings as weekly feeds, what goes into which stock tank, how much water a feed wants, how salt it gets.

Source: fertigation-guide; the figures stand in liquids/figures.toml.
"""

from collections.abc import Iterable
from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise
from math import ceil

from agronomy.apply.tank import salts_ec
from agronomy.base.record import record
from agronomy.base.said import Mass, Measure, Volume, joined, say
from agronomy.dose.application import Application, to_one
from agronomy.products.compatibility import clash
from agronomy.tables import Tables
from agronomy.tables.material import Material

NAMES = "ABCD"
WEEK = timedelta(days=7)
DAY = timedelta(days=1)
WITH_NITROGEN = frozenset({"K", "Mg"})  # go on as long as the nitrogen does
NOT_TOGETHER = frozenset({"never", "not in one tank"})


@record(kw_only=True)
class Gear:
    """What food goes through the drippers with: ground [m2], parts of water to one of stock, the tank [L], the water's own conductivity
    [dS/m], the system of units.
    """

    area_m2: float
    injector: float
    water_ec: float
    tank_l: float | None = None
    system: str = "metric"


@record(kw_only=True)
class StockTank:
    """What goes into one tank for a week's feed: its letter, the names and weights [kg] in the order of mixing, the water [L]."""

    name: str
    kg: tuple[tuple[str, float], ...]
    litres: float


@record(kw_only=True)
class FeedSpell:
    """Weeks in which the same is fed: first and last day, how many feeds, the tanks of one feed, the water it wants [L; mm], salts at the
    dripper [g/L], the conductivity there [dS/m] with the water's own, and all of it in words.
    """

    first: date
    last: date
    feeds: int
    tanks: tuple[StockTank, ...]
    water_l: float
    water_mm: float
    salts_g_per_l: float
    ec_ds_per_m: float
    says: str


def weekly(applications: list[Application], plants: float | None, system: str, tables: Tables) -> list[Application]:
    """The applications, each that goes through the drippers told as weekly feeds until its next, or for six weeks.

    Days and kg. Source: fertigation-guide.

    >>> from agronomy.intake.example import plan, tables
    >>> weekly(list(plan().applications), None, "metric", tables) == list(plan().applications)
    True
    """
    nitrogen = [_spanned(item, applications, tables) if item.what == "N" else item for item in applications]
    spanned = [item if item.what == "N" else _spanned(item, nitrogen, tables) for item in nitrogen]
    runs = _runs([item for item in spanned if is_dripped(item, tables) and not item.later])
    return [
        _told(item, _runs([item]) if item.later else runs, plants, system, tables) if is_dripped(item, tables) else item for item in spanned
    ]


def is_dripped(item: Application, tables: Tables) -> bool:
    """Whether a dose goes through the drippers. Source: definition.

    >>> from agronomy.intake.example import plan, tables
    >>> is_dripped(plan().applications[0], tables)
    False
    """
    return item.placement_pattern == tables.timing.places.by_drip


def _spanned(item: Application, all_: list[Application], tables: Tables) -> Application:
    """A dose through the drippers, going on in whole weeks until its next, or beside the nitrogen until the last of that."""
    if not is_dripped(item, tables):
        return item
    others = [other for other in all_ if is_dripped(other, tables) and other is not item]
    after = [other.from_ - DAY for other in others if other.what == item.what and other.from_ > item.from_]
    season = timedelta(days=tables.liquids.drip_season_days.value)
    nitrogen = [other for other in others if other.what == "N" and item.what != "N" and other.from_ - item.from_ < season]
    beside = [other.to for other in nitrogen if item.what in WITH_NITROGEN]
    stage = item.from_ + timedelta(days=tables.liquids.drip_stage_most_days.value - 1)
    end = max(item.to, min([max([stage, *beside]), *after]))
    # nitrogen's own weeks go on unbroken: what ends beside it ends on the last day of one
    begun = next((other.from_ for other in nitrogen if item.from_ <= other.from_ <= end <= other.to), item.from_)
    whole = begun + (end - begun + DAY) // WEEK * WEEK - DAY
    return item if whole - item.from_ < WEEK else replace(item, to=end if end in beside else whole)


@record
class _Run:
    """Days on which the same doses run, and how many weekly feeds they hold."""

    first: date
    last: date
    feeds: int
    items: tuple[Application, ...]

    def feeds_of(self, item: Application) -> int:
        return self.feeds if any(item is here for here in self.items) else 0


def _runs(fed: list[Application]) -> list[_Run]:
    """The runs of days on which the same goes through the drippers, each with its whole weeks; each dose is fed at least once."""
    edges = sorted({item.from_ for item in fed} | {item.to + DAY for item in fed})
    runs = [
        _Run(first, after - DAY, (after - first) // WEEK, tuple(item for item in fed if item.from_ <= first <= item.to))
        for first, after in pairwise(edges)
    ]
    for item in fed:
        if not any(run.feeds_of(item) for run in runs):
            runs = [replace(run, feeds=1) if run.first == item.from_ else run for run in runs]
    return [run for run in runs if run.items and run.feeds]


def _told(item: Application, runs: list[_Run], plants: float | None, system: str, tables: Tables) -> Application:
    """A dose with its weekly feeds in words."""
    feeds = sum(run.feeds_of(item) for run in runs)
    if feeds == 1:
        return item
    each = Mass(item.total_kg / feeds, 2, system)
    one = to_one(item.total_kg / feeds, plants, system, least_g=tables.choice.least_for_each_g.value)
    if one is not None:
        told = say("dissolved, through the drippers, in {feeds} weekly feeds of {each} ({one} to each)", feeds=feeds, each=each, one=one)
    else:
        told = say("dissolved, through the drippers, in {feeds} weekly feeds of {each}", feeds=feeds, each=each)
    return replace(item, placement=told, feeds=feeds)


def feed_spells(applications: Iterable[Application], gear: Gear, tables: Tables) -> tuple[FeedSpell, ...]:
    """The weeks in which the same goes through the drippers, each with its tanks; empty where nothing is dissolved.

    Source: fertigation-guide.

    >>> from agronomy.intake.example import plan, tables
    >>> feed_spells(plan().applications, Gear(area_m2=10, injector=100, water_ec=0.3), tables)
    ()
    """
    spells = []
    for run in _runs([item for item in applications if is_dripped(item, tables) and not item.later]):
        parts: dict[str, float] = {}
        for item in run.items:
            parts[item.material] = parts.get(item.material, 0.0) + item.total_kg / item.feeds
        spells.append(_spell(run.first, run.last, run.feeds, parts, gear, tables))
    return tuple(spells)


def _spell(first: date, last: date, feeds: int, parts: dict[str, float], gear: Gear, tables: Tables) -> FeedSpell:
    shares = [(tables.materials[key], kg) for key, kg in parts.items()]
    tanks = tuple(
        StockTank(
            name=NAMES[place],
            kg=tuple((material.name, kg) for material, kg in held),
            litres=_stock(held, gear.injector, tables),
        )
        for place, held in enumerate(_parted(shares, tables))
    )
    # tanks that may not meet are fed one after the other, each with its own water
    water_l = sum(tank.litres for tank in tanks) * gear.injector
    salts = sum(parts.values()) * 1000 / water_l
    ec = gear.water_ec + salts_ec([(material, kg * 1e6 / water_l) for material, kg in shares], tables)
    spell = FeedSpell(
        first=first,
        last=last,
        feeds=feeds,
        tanks=tanks,
        water_l=water_l,
        water_mm=water_l / gear.area_m2,
        salts_g_per_l=salts,
        ec_ds_per_m=ec,
        says="",
    )
    return replace(spell, says=_said(spell, gear, tables.liquids.drip_feed_most_mm.value))


def _stock(held: list[tuple[Material, float]], injector: float, tables: Tables) -> float:
    """Water in the stock tank [L]: enough to dissolve it on a cold day, and to be as thin at the dripper as is usual."""
    figures = tables.liquids
    dissolving = sum(
        kg * 1000 / (figures.stock_share.value * material.solubility_g_per_l) for material, kg in held if material.solubility_g_per_l
    )
    thin = sum(kg for _, kg in held) * 1000 / (figures.drip_usual_g_per_l.value * injector)
    return max(dissolving, thin)


def _parted(shares: list[tuple[Material, float]], tables: Tables) -> list[list[tuple[Material, float]]]:
    """The materials by tank: calcium first, each into the first tank in which it meets nothing that it falls out with."""
    tanks: list[list[tuple[Material, float]]] = []
    for material, kg in sorted(shares, key=lambda pair: ("calcium" not in pair[0].groups, pair[0].key)):
        for held in tanks:
            if not any((found := clash(material, other, tables)) and found.together in NOT_TOGETHER for other, _ in held):
                held.append((material, kg))
                break
        else:
            tanks.append([(material, kg)])
    return tanks


def _said(spell: FeedSpell, gear: Gear, most_mm: float) -> str:
    """A spell in words."""
    tanks = [
        say(
            "tank {name}: {what} in {litres}",
            name=tank.name,
            what=joined((say("{kg} of {material}", kg=Mass(kg, 2, gear.system), material=material) for material, kg in tank.kg), " and "),
            litres=Volume(tank.litres, False, gear.system),
        )
        for tank in spell.tanks
    ]
    when = (
        say("{first:%-d %B} to {last:%-d %B %Y}, each week", first=spell.first, last=spell.last)
        if spell.feeds > 1
        else say("{first:%-d %B %Y}", first=spell.first)
    )
    parts = [say("{when}: {tanks}.", when=when, tanks=joined(tanks, "; "))]
    if len(spell.tanks) > 1:
        parts.append(say("The tanks must not meet undiluted: one after the other, with clear water between."))
    parts.append(
        say(
            "At 1:{injector:g} that takes {water} of water: {salts:.1f} of salts at the dripper, EC about {ec:.1f} dS/m.",
            injector=gear.injector,
            water=Volume(spell.water_l, False, gear.system),
            salts=Measure(spell.salts_g_per_l, "g/L"),
            ec=spell.ec_ds_per_m,
        )
    )
    fills = max((ceil(tank.litres / gear.tank_l - 1e-9) for tank in spell.tanks), default=1) if gear.tank_l else 1
    if fills > 1:
        parts.append(say("Fill the tank {fills} times a week.", fills=fills))
    if spell.water_mm > most_mm:
        parts.append(say("That is {mm:.0f} of water: give it with two or more waterings.", mm=Measure(spell.water_mm, "mm")))
    return joined(parts)
