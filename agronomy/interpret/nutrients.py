"""Nutrient readings against the critical levels of their method and crop group."""

from bisect import bisect_right
from dataclasses import field

from agronomy.base.record import record
from agronomy.base.said import say, worded
from agronomy.base.working import Figure, Step
from agronomy.model.finding import NUTRIENT_CLASSES, Finding
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.model.target import Target
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.nutrients import CriticalRow


@record
class NoRule:
    """A reading that no table of ours can judge: not "none needed", but "not known"."""

    analyte: str
    why: str
    instead: str


_EDGES = ("short from", "building from", "right from", "plenty from", "far too much from")


@record(kw_only=True)
class Critical:
    """Critical level of one nutrient for one plot, with its spread and the class edges [unit of the reading]."""

    level: float
    low: float
    high: float
    edges: tuple[float, float, float, float, float]
    step: Step
    source: str
    wanted: str = field(init=False)  # from what on it is right, to where it is plenty, in words
    edge_figures: dict[str, Figure] = field(init=False)

    def __post_init__(self) -> None:
        unit, edges = self.step.result.unit, self.edges
        object.__setattr__(self, "wanted", f"{_short(edges[2])} to {_shown(edges[3], unit)}")
        object.__setattr__(self, "edge_figures", {name: Figure(edge, unit) for name, edge in zip(_EDGES, edges, strict=True)})


def critical_for(reading: Reading, crop: Crop, soil: Soil, tables: Tables, own: Target | None = None) -> Critical | NoRule:
    """The critical level that fits the reading's method, the crop's group and the soil, or NoRule; a grower's own goes first.

    Source: each row's own.
    Levels in the analyte's base unit (mg/kg, % for organic matter).

    >>> from agronomy.intake.example import bed, found, soil, tables
    >>> critical_for(found().readings["P"], bed().crop, soil(), tables).level
    50.0
    """
    nutrient = reading.analyte
    if own is not None:
        figures = tables.nutrients
        short, building = figures.own_level_short_from.value, figures.own_level_building_from.value
        plenty, excess = figures.own_level_plenty_from.value, figures.own_level_excess_from.value
        step = Step(
            "critical level",
            "your own",
            {},
            Figure(own.level, reading.unit),
            "user-target",
            note="your own figure, in place of the table's",
        )
        edges = (own.level * short, own.level * building, own.level, own.level * plenty, own.level * excess)
        return Critical(level=own.level, low=own.level, high=own.level, edges=edges, step=step, source="user-target;class-edges-by-ratio")
    method = tables.reads_like.get((nutrient, reading.method), reading.method)
    index, place = tables.critical_for, (crop.nutrient_group, soil.is_light)
    row = index.get((nutrient, method, *place)) or index.get((nutrient, "any", *place))
    if row is None:
        if reading.method == "not stated":
            return NoRule(
                nutrient,
                say("the report does not say how {nutrient} was extracted, and the methods differ severalfold", nutrient=nutrient),
                say("ask the laboratory for its method"),
            )
        return NoRule(
            nutrient,
            say("no table here judges {nutrient} by {method}", nutrient=nutrient, method=reading.method),
            say("ask for a method this page lists"),
        )
    if row.per_cec:
        return _by_row(row, soil.cec_cmol_per_kg, reading.unit)
    kept = ("critical", nutrient, method, *place, reading.unit)
    if kept not in tables.kept:
        tables.kept[kept] = _by_row(row, 0.0, reading.unit)
    return tables.kept[kept]


def _by_row(row: CriticalRow, cec_cmol_per_kg: float, unit: str) -> Critical:
    per_cec = row.per_cec * cec_cmol_per_kg
    level = row.critical + per_cec
    low = level * row.critical_low if row.spread == "times" else row.critical_low
    high = level * row.critical_high if row.spread == "times" else row.critical_high
    inputs = {"table level": Figure(row.critical, unit)}
    if row.per_cec:
        inputs |= {"per cmol/kg": Figure(row.per_cec, unit), "exchange capacity": Figure(cec_cmol_per_kg, "cmol/kg")}
    step = Step(
        "critical level",
        "table level + per cmol/kg × exchange capacity" if row.per_cec else "table level",
        inputs,
        Figure(level, unit),
        row.source,
        row.where,
    )
    edges = (level * row.short_from, level * row.building_from, level, level * row.plenty_from, level * row.excess_from)
    return Critical(level=level, low=low, high=high, edges=edges, step=step, source=row.source)


def classify(value: float, edges: tuple[float, ...]) -> str:
    """Class of a value; a value on an edge belongs to the class above it. Source: class-edges-by-ratio.

    Value and edges in one unit, mg/kg or %.

    >>> classify(15.0, (10.0, 12.5, 15.0, 20.0, 30.0)), classify(9.9, (10.0, 12.5, 15.0, 20.0, 30.0))
    ('right', 'very_short')
    """
    return NUTRIENT_CLASSES[bisect_right(edges, value)]


NEVER = 99.0  # a pH that no ground has
_SAYS = {
    "very_short": worded("{name} is very short: {shown} where {crop} needs {wanted}."),
    "short": worded("{name} is short: {shown} where {crop} needs {wanted}."),
    "building": worded("{name} is a little under what {crop} needs: {shown} of {wanted}."),
    "right": worded("{name} is right for {crop}: {shown}, target {wanted}."),
    "plenty": worded("There is plenty of {low_name}: {shown}, more than {crop} can use ({wanted})."),
    "excess": worded("There is far too much {low_name} for {crop}: {shown}, target {wanted}."),
}
_RISK = {
    "P": say(" It can wash into water and hold back zinc and iron; let crops draw it down."),
    "K": say(" It works against magnesium and calcium."),
    "Mg": say(" It works against potassium."),
    "S": "",
    "Ca": "",
    "OM": "",
    "Zn": say(" It can harm; look for galvanised tools, sewage sludge or old sprays."),
    "Cu": say(" It can harm roots, worms and sheep; look for old sprays."),
    "B": say(" It can poison; give none, and look at the water."),
    "Mn": say(" On acid ground it poisons roots."),
    "Fe": "",
    "Mo": say(" It can harm grazing cattle."),
}


def _class_step(critical: Critical, reading: Reading, class_: str) -> Step:
    return Step(
        "class",
        "the class whose edges hold the reading",
        {"reading": Figure(reading.value, reading.unit), **critical.edge_figures},
        Figure(class_.replace("_", " ")),
        critical.source,
        critical.step.where,
    )


def _why(class_: str, reading: Reading, crop: Crop, critical: Critical, name: str, *, is_own: bool) -> str:
    why: str = say(
        _SAYS[class_],
        name=name,
        low_name=name[0].lower() + name[1:],
        crop=crop.name,
        shown=_shown(reading.value, reading.unit),
        wanted=critical.wanted,
    )
    if is_own:
        why += say(" The level is your own.")
    if class_ == "excess":
        why += _RISK[reading.analyte]
    return why


def judge_nutrient(
    reading: Reading,
    crop: Crop,
    soil: Soil,
    ph: float | None,
    tables: Tables,
    own: Target | None = None,
    stand_in: Critical | None = None,
) -> tuple[Finding, Critical] | NoRule:
    """A Finding on P, K, Ca, Mg, S or organic matter with the critical level it was judged by, or NoRule. `stand_in` serves
    where no level of ours fits.

    Source: the row of the critical level.
    Reading in mg/kg (organic matter in %).

    >>> from agronomy.intake.example import bed, found, soil, tables
    >>> judge_nutrient(found().readings["P"], bed().crop, soil(), 5.6, tables)[0].class_
    'very_short'
    """
    analyte = tables.analytes[reading.analyte]
    if ph is not None and ph > tables.fails_above.get((reading.analyte, reading.method), NEVER):
        return NoRule(
            "P",
            say("{method} reads low at pH {ph:.1f}: lime in the soil uses up its acid", method=reading.method, ph=ph),
            say("ask for an Olsen test"),
        )
    critical = critical_for(reading, crop, soil, tables, own)
    if isinstance(critical, NoRule) and stand_in is not None:
        critical = stand_in
    if isinstance(critical, NoRule):
        return critical
    class_ = classify(reading.value, critical.edges)
    name = analyte.name
    why = _why(class_, reading, crop, critical, name, is_own=own is not None)
    step = _class_step(critical, reading, class_)
    finding = Finding(
        analyte=reading.analyte,
        name=name,
        class_=class_,
        value=reading.value,
        low=reading.low,
        high=reading.high,
        unit=reading.unit,
        wanted=(critical.edges[2], critical.edges[3]),
        scale=(0.0, critical.edges[4]),
        why=why,
        method=reading.method,
        qualifier=reading.qualifier,
        act=True,
        expected=None,
        working=(*reading.steps, critical.step, step),
    )
    return finding, critical


def _short(value: float) -> str:
    if value >= 10:
        return f"{value:.0f}"
    return f"{value:.1f}".removesuffix(".0") if value >= 1 else f"{value:.2g}"


def _shown(value: float, unit: str) -> str:
    return f"{_short(value)} {unit}"
