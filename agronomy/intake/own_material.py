"""A bag's own label, or a lot's own analysis, over the table's figures for that material. It is always marked as such."""

from dataclasses import replace
from typing import Any

from pydantic import BaseModel, ConfigDict, Field

from agronomy.base.errors import OutOfRange
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import positive_quantity
from agronomy.tables.material import Material

Amount = float | int | str
SOURCE = "user-value"

# What a label may say: lowest and highest that can be, in % by weight (density in g/mL).
LIMITS = {
    "n": (0, 60),
    "p2o5": (0, 75),
    "k2o": (0, 65),
    "ca": (0, 72),
    "mg": (0, 61),
    "s": (0, 100),
    "cce": (-330, 180),
    "fineness": (1, 100),
    "density_g_per_ml": (0.05, 3.0),
}
CONTENTS = ("n", "p2o5", "k2o", "ca", "mg", "s")


class LabelDoc(BaseModel):
    """What a label or an analysis says: contents in % (P and K as oxides), neutralising value in % of CaCO3, % that is fine enough,
    density, bag.
    """

    model_config = ConfigDict(extra="forbid")
    name: str | None = Field(default=None, max_length=80)
    n: Amount | None = None
    p2o5: Amount | None = None
    k2o: Amount | None = None
    ca: Amount | None = None
    mg: Amount | None = None
    s: Amount | None = None
    cce: Amount | None = None
    fineness: Amount | None = None
    density_g_per_ml: Amount | None = None
    bag: Amount | None = None


def own_material(base: Material, doc: LabelDoc, field: str) -> Material:
    """The material with the label's figures in place.

    Raises OutOfRange for a figure that cannot be, for contents that add to more than 100 %, and for a bag that weighs nothing.
    """
    told = _told(doc, field)
    material = replace(base, **told)
    whole = sum(getattr(material, name) for name in CONTENTS)
    if whole > 100 and any(name in told for name in CONTENTS):
        most = max((name for name in CONTENTS if name in told), key=lambda name: told[name])
        raise OutOfRange(
            f"{field}.{most}",
            told[most],
            f"the contents add to {whole:g} %, more than the whole bag",
            "check the decimal points, and whether the label counts something twice",
        )
    if doc.name is None and not told.keys() - {"bag_kg"}:  # the size of a bag says nothing of what is in it
        return replace(base, **told) if told else base
    return replace(material, name=doc.name or base.name, source=f"{SOURCE};{base.source}", status="unsure")


def _told(doc: LabelDoc, field: str) -> dict[str, Any]:
    told: dict[str, Any] = {}
    for name, (low, high) in LIMITS.items():
        typed = getattr(doc, name)
        if typed is None or typed == "":
            continue
        number = parse_number(typed, f"{field}.{name}")
        if not low <= number <= high:
            raise OutOfRange(
                f"{field}.{name}", typed, f"{number:g} is outside {low:g} to {high:g}", "check the label and the decimal point"
            )
        told[name] = number / 100 if name == "fineness" else number
    if doc.bag not in (None, ""):
        told["bag_kg"] = positive_quantity(doc.bag, "mass", f"{field}.bag", low=0.001, high=5000)
    return told
