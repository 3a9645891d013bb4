"""Water for plants: what its alkalinity, hardness, salt and chlorine mean for the ground it goes on."""

from agronomy.base.record import record
from agronomy.base.working import Figure, Step
from agronomy.model.reading import Reading
from agronomy.tables import Tables
from agronomy.tables.rooms.readings import WaterClass


@record
class WaterSays:
    """One finding about a water: what it is about, the class in a word, the sentence, and its working."""

    about: str
    word: str
    text: str
    asks: bool
    steps: tuple[Step, ...]


HARDNESS_OF_CA, HARDNESS_OF_MG = 2.497, 4.118  # CaCO3 that weighs as much charge


def hardness_from(ca_mg_per_l: float, mg_mg_per_l: float) -> float:
    """Hardness [mg/L CaCO3] from calcium and magnesium [mg/L]. Source: definition.

    >>> round(hardness_from(80, 20), 1)
    282.1
    """
    return HARDNESS_OF_CA * ca_mg_per_l + HARDNESS_OF_MG * mg_mg_per_l


def lime_brought_kg_per_ha(alkalinity_mg_per_l: float, water_mm: float) -> float:
    """What a water limes [kg CaCO3/ha] when so much of it [mm] is given. Source: definition.

    >>> lime_brought_kg_per_ha(200, 450)
    900.0
    """
    return alkalinity_mg_per_l * water_mm * 0.01


def _class_of(table: str, value: float, tables: Tables) -> WaterClass:
    rows = [row for row in tables.readings.water_classes if row.analyte == table]
    return next((row for row in rows if row.below is None or value < row.below), rows[-1])


def class_word(analyte: str, value: float, tables: Tables) -> str:
    """The class of a water's figure in a word; nothing where no table has it. Source: water_classes.csv.

    In the water's own units (mg/L, dS/m, mg CaCO3/L).

    >>> from agronomy.intake.example import tables
    >>> class_word("alkalinity", 250, tables)
    'very high'
    """
    return _class_of(analyte, value, tables).word if any(row.analyte == analyte for row in tables.readings.water_classes) else ""


def judge_water(readings: dict[str, Reading], tables: Tables) -> list[WaterSays]:
    """What the readings of one water say, what asks for something first. Sources stand in water_classes.csv.

    Readings in the water's own units (mg/L, dS/m, mg CaCO3/L).

    >>> from agronomy.intake.example import tables
    >>> judge_water({}, tables)
    []
    """
    known = dict(readings)
    says = [_says(reading, tables) for key, reading in known.items() if any(row.analyte == key for row in tables.readings.water_classes)]
    if "hardness" not in known and {"water Ca", "water Mg"} <= known.keys():
        ca, mg = known["water Ca"].value, known["water Mg"].value
        hardness = hardness_from(ca, mg)
        step = Step(
            "hardness",
            "Ca × as lime, Ca + Mg × as lime, Mg",
            {
                "Ca": Figure(ca, "mg/L"),
                "as lime, Ca": Figure(HARDNESS_OF_CA, "mg CaCO3 per mg", "definition"),
                "Mg": Figure(mg, "mg/L"),
                "as lime, Mg": Figure(HARDNESS_OF_MG, "mg CaCO3 per mg", "definition"),
            },
            Figure(hardness, "mg/L CaCO3"),
            "definition",
        )
        row = _class_of("hardness", hardness, tables)
        says.append(WaterSays("hardness", row.word, row.text, row.asks, (step,)))
    return sorted(says, key=lambda item: not item.asks)


def is_salty(readings: dict[str, Reading], tables: Tables) -> bool:
    """Whether a water brings so much salt [dS/m] or chloride [mg/L] that no more chloride should go on. Source: water-guide.

    >>> from agronomy.intake.example import tables
    >>> is_salty({}, tables)
    False
    """
    salt, chloride = readings.get("water EC"), readings.get("water Cl")
    return (salt is not None and salt.value >= tables.choice.salty_water_from_ds_per_m.value) or (
        chloride is not None and chloride.value >= tables.choice.salty_water_from_mg_cl_per_l.value
    )


def _says(reading: Reading, tables: Tables) -> WaterSays:
    row = _class_of(reading.analyte, reading.value, tables)
    inputs = {"reading": Figure(reading.value, reading.unit)}
    step = Step("class", "the row that the reading falls into", inputs, Figure(row.word), row.source, row.where)
    return WaterSays(reading.analyte, row.word, row.text, row.asks, (*reading.steps, step))
