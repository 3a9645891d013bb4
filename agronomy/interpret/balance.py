"""How nutrients stand to each other: shares of the exchange capacity, ratios that matter, and what adding one would do to another.

Each is judged by its own level first; a ratio is a remark and never a dose.
"""

from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.base.said import Measure, joined, say
from agronomy.base.working import Figure, Step
from agronomy.model.answers import Need
from agronomy.model.finding import Finding
from agronomy.model.reading import Reading
from agronomy.model.soil import Soil
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.rooms.balance import Upset

CATIONS = ("Ca", "Mg", "K", "Na")
PER_WEIGHT, PER_CHARGE = "by weight", "by charge"


@record
class Remark:
    """A word on how two nutrients stand to each other, or what a dressing would do; `key` names it for links."""

    key: str
    between: str
    says: str
    working: tuple[Step, ...]


@record
class Share:
    """A cation's share of the exchange capacity [%] beside the range that the school of cation balance aims at."""

    cation: str
    name: str
    pct: float
    low: float
    high: float


def shares(readings: dict[str, Reading], soil: Soil, tables: Tables) -> tuple[Share, ...]:
    """Shares of the cations that were read, in a fixed order; empty where the exchange capacity was not measured. Source: definition.

    Shares in % of the exchange capacity.

    >>> from agronomy.intake.example import found, soil, tables
    >>> [part.cation for part in shares(found(test={"K": 150, "Mg": 120, "Ca": 1500}).readings, soil(), tables)]
    []
    """
    if not soil.cec_known:
        return ()
    found = []
    for key in CATIONS:
        if key in readings:
            row, aim = tables.analytes[key], tables.schools.cation_share(key)
            found.append(Share(key, row.name, readings[key].value / row.per_cmol / soil.cec_cmol_per_kg * 100, aim.low, aim.high))
    return tuple(found)


def remarks(
    readings: dict[str, Reading],
    judged: dict[str, Finding],
    needs: list[Need],
    crop: Crop,
    soil: Soil,
    tables: Tables,
    *,
    slope_pct: float | None,
    water_m: float | None,
    sulfur_kg_per_ha: float = 0.0,
) -> tuple[Remark, ...]:
    """All remarks, those on the ground before those on what the plan would add. Source: antagonism-guide, bcsr-graham.

    Slope in %, distance from water in m; `sulfur_kg_per_ha` is what the plan brings anyway.

    >>> from agronomy.intake.example import bed, found, soil, needs, tables
    >>> len(remarks(found().readings, found().nutrients, needs(), bed().crop, soil(), tables, slope_pct=None, water_m=None))
    3
    """
    found = [
        *_potassium_magnesium(readings, judged, crop, tables),
        *_calcium_magnesium(readings, judged, tables),
        *_ammonium(readings, crop, tables),
    ]
    found += [
        *_phosphorus_metals(judged, crop),
        *_sulfur_for_nitrogen(judged, needs, sulfur_kg_per_ha, tables),
        *_left_nitrate(readings, tables),
    ]
    found += _phosphorus_and_water(judged, slope_pct, water_m, tables)
    asked = {need.what for need in needs}
    found += [_upset(row) for row in tables.balance.upsets if row.added in asked and _upsets(row, judged, asked)]
    return tuple(found)


@record
class Ratio:
    """Two amounts of one unit, by weight or by charge; its step is made where something is said of it."""

    first: str
    second: str
    amounts: tuple[float, float]
    by: str

    @property
    def value(self) -> float:
        return self.amounts[0] / self.amounts[1]

    def step(self) -> Step:
        unit = "cmol/kg" if self.by == PER_CHARGE else "mg/kg"
        inputs = {name: Figure(amount, unit) for name, amount in zip((self.first, self.second), self.amounts, strict=True)}
        name, formula = say("{first} to {second}, {by}", first=self.first, second=self.second, by=self.by), f"{self.first} / {self.second}"
        return Step(name, formula, inputs, Figure(self.value), "definition")


def _ratio(first: str, second: str, readings: dict[str, Reading], by: str, tables: Tables) -> Ratio | None:
    if first not in readings or second not in readings or readings[second].value <= 0:
        return None
    amounts = (readings[first].value, readings[second].value)
    if by == PER_CHARGE:
        amounts = (amounts[0] / tables.analytes[first].per_cmol, amounts[1] / tables.analytes[second].per_cmol)
    return Ratio(first, second, amounts, by)


def _potassium_magnesium(readings: dict, judged: dict, crop: Crop, tables: Tables) -> list[Remark]:
    weight, charge = (_ratio("K", "Mg", readings, by, tables) for by in (PER_WEIGHT, PER_CHARGE))
    if (
        weight is None
        or charge is None
        or (weight.value <= tables.balance.k_to_mg_mg.value and charge.value <= tables.balance.k_to_mg_charge.value)
    ):
        return []
    enough = "Mg" in judged and not judged["Mg"].is_short
    says = say(
        "Potassium stands {weight:.1f} to 1 beside magnesium by weight: it can keep magnesium out of the "
        "plant{which}. Bring no more potassium than the plan says.",
        weight=weight.value,
        which=" even though the ground holds enough" if enough else "",
    )
    if crop.is_grass:
        says += say(
            " Animals on such grass in a cold spring can get staggers from too little magnesium: have the herbage tested and ask your vet."
        )
    return [Remark("k_mg", "potassium and magnesium", says, (weight.step(), charge.step()))]


def _calcium_magnesium(readings: dict, judged: dict, tables: Tables) -> list[Remark]:
    found = _ratio("Ca", "Mg", readings, PER_CHARGE, tables)
    if found is None:
        return []
    ratio = found.value
    if ratio < tables.balance.ca_to_mg_least.value:
        return [
            Remark(
                "ca_mg",
                "calcium and magnesium",
                say("Calcium is only {ratio:.1f} times magnesium by charge: if lime is due, take one without magnesium.", ratio=ratio),
                (found.step(),),
            )
        ]
    if ratio > tables.balance.ca_to_mg_most.value and "Mg" in judged and judged["Mg"].is_short:
        return [
            Remark(
                "ca_mg",
                "calcium and magnesium",
                say(
                    "Calcium is {ratio:.0f} times magnesium by charge, and magnesium is short by its own level: see to magnesium.",
                    ratio=ratio,
                ),
                (found.step(),),
            )
        ]
    return []


def _ammonium(readings: dict, crop: Crop, tables: Tables) -> list[Remark]:
    if "Ca" not in crop.sensitive_to or "NH4-N" not in readings or "NO3-N" not in readings:
        return []
    ammonium, nitrate = readings["NH4-N"].value, readings["NO3-N"].value
    share = ammonium / (ammonium + nitrate) if ammonium + nitrate > 0 else 0.0
    if share <= tables.balance.ammonium_share.value:
        return []
    step = Step(
        "ammonium's share",
        "ammonium / (ammonium + nitrate)",
        {"ammonium": Figure(ammonium, "mg/kg"), "nitrate": Figure(nitrate, "mg/kg")},
        Figure(share, "fraction"),
        "antagonism-guide",
    )
    says = say(
        "{share:.0f} % of the mineral nitrogen is ammonium: it keeps calcium from young leaves and fruit. Even "
        "watering first; then nitrate, not ammonium, as the next feed.",
        share=share * 100,
    )
    return [Remark("nh4_ca", "ammonium and calcium", says, (step,))]


def _phosphorus_metals(judged: dict, crop: Crop) -> list[Remark]:
    if "P" not in judged or judged["P"].class_ != "excess":
        return []
    short = [judged[key].name.lower() for key in ("Zn", "Fe") if key in judged and judged[key].is_short]
    if short:
        says = say(
            "So much phosphorus makes {names} harder to get, and the test reads low as well: have leaves tested.",
            names=joined(short, " and "),
        )
    elif "Zn" in judged:
        return []
    else:
        says = say(
            "So much phosphorus can make zinc and iron harder to get; zinc was not tested. If young leaves pale "
            "between the veins, test zinc."
        )
    return [Remark("p_zn_fe", "phosphorus, zinc and iron", says, judged["P"].working[-1:])]


def _sulfur_for_nitrogen(judged: dict, needs: list[Need], sulfur_kg_per_ha: float, tables: Tables) -> list[Remark]:
    nitrogen = next((need for need in needs if need.what == "N"), None)
    limit = tables.balance.sulfur_for_nitrogen
    if nitrogen is None or "S" in judged or nitrogen.rate_kg_per_ha < limit.value:
        return []
    if sulfur_kg_per_ha >= tables.balance.sulfur_to_nitrogen.value * nitrogen.rate_kg_per_ha:
        return []
    step = Step("nitrogen to give", "the need", {}, Figure(nitrogen.rate_kg_per_ha, "kg/ha"), limit.source, limit.where)
    return [
        Remark(
            "n_s",
            "nitrogen and sulfur",
            say("So much nitrogen needs about a tenth as much sulfur beside it, and sulfate was not tested."),
            (step,),
        )
    ]


def _left_nitrate(readings: dict, tables: Tables) -> list[Remark]:
    reading, limit = readings.get("NO3-N"), tables.balance.nitrate_washes
    if reading is None or reading.value <= limit.value:
        return []
    step = Step("nitrate", "reading", {}, Figure(reading.value, "mg/kg"), limit.source, limit.where)
    return [
        Remark(
            "nitrate_water",
            "nitrate and water",
            (
                say(
                    "There is a lot of nitrate in the ground: bare over winter it washes to wells and streams. Sow a catch crop "
                    "if nothing else grows there."
                )
            ),
            (step,),
        )
    ]


def _phosphorus_and_water(judged: dict, slope_pct: float | None, water_m: float | None, tables: Tables) -> list[Remark]:
    """Phosphorus in excess where soil can wash to open water."""
    if "P" not in judged or judged["P"].class_ != "excess":
        return []
    near, steep = tables.balance.p_near_water_m, tables.balance.p_on_slope_pct
    lies: list[str] = []
    is_near = water_m is not None and water_m < near.value
    if water_m is not None and is_near:
        lies.append(say("{away:.0f} from open water", away=Measure(water_m, "m")))
    if slope_pct is not None and slope_pct >= steep.value:
        lies.append(say("on a slope of {slope:.0f} %", slope=slope_pct))
    if not lies:
        return []
    where = joined(lies, " and ")
    says = say(
        "This ground is rich in phosphorus and lies {where}: soil that washes off carries it into the water. No "
        "dung or compost here, no bare ground over winter, and a grass strip below it.",
        where=where,
    )
    inputs = {"distance to water": Figure(required(water_m), "m")} if is_near else {"slope": Figure(required(slope_pct), "%")}
    limit = near if is_near else steep
    return [
        Remark(
            "p_water",
            "phosphorus and water",
            says,
            (
                *judged["P"].working[-1:],
                Step("where it lies", "against the limit", inputs, Figure(limit.value, "m" if is_near else "%"), limit.source, limit.where),
            ),
        )
    ]


def _upsets(row: Upset, judged: dict, asked: set[str]) -> bool:
    """Whether what is added makes something short harder to get, and the plan does not give that too."""
    finding = judged.get(row.affects)
    if finding is None or not finding.is_short or (finding.class_ == "building" and finding.analyte == "K"):
        return False  # a little under the level of potassium is saved up, and no trouble
    return row.affects not in asked


def _upset(row: Upset) -> Remark:
    step = Step(
        "what adding one does to another",
        "table",
        {"added": Figure(row.added), "affects": Figure(row.affects)},
        Figure("harder to get" if row.key != "lime_molybdenum" else "easier to get"),
        row.source,
        row.where,
    )
    return Remark(row.key, row.where, row.says, (step,))
