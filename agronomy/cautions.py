"""The usual cautions, one sentence each, for what this plan spreads."""

from dataclasses import dataclass

from agronomy.dose.application import Application
from agronomy.tables import Tables


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution: what it is about, what it says, and the materials it comes with (none: always)."""

    about: str
    text: str
    materials: tuple[str, ...] = ()


def cautions_for(applications: list[Application], tables: Tables) -> list[Caution]:
    """Cautions of the materials used, each once, then the two that hold for every sheet."""
    by_key: dict[str, list[str]] = {}
    for material in dict.fromkeys(application.material for application in applications):
        for key in tables.materials[material].cautions.split(";"):
            by_key.setdefault(key, []).append(material)
    said = [Caution(tables.cautions[key]["about"], tables.cautions[key]["text"], tuple(materials)) for key, materials in by_key.items()]
    if applications:
        said += [Caution(tables.cautions[key]["about"], tables.cautions[key]["text"]) for key in ("water_margin", "label")]
    return said
