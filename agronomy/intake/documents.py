"""Plans as documents: to JSON and back, and the JSON Schemas made from the code."""

from collections.abc import Sequence
from datetime import date
from functools import lru_cache
from typing import Any

from pydantic import TypeAdapter

from agronomy.base.record import record
from agronomy.base.showing import mass
from agronomy.intake.request_doc import RequestDoc
from agronomy.intake.writing import WRITTEN, Writer
from agronomy.ledger.totals import beside_plan
from agronomy.plan.plan import Plan
from agronomy.plan.telling import sentences_of, with_sentences
from agronomy.tables import Tables

_READ = {written: name for name, written in WRITTEN.items()}
_whole, _brief = Writer(), Writer(workings=False)


@lru_cache(maxsize=1)
def _adapter() -> TypeAdapter:
    return TypeAdapter(Plan)


def plan_to_document(plan: Plan, *, workings: bool = True, sentences: bool = False) -> dict[str, Any]:
    """The plan as plain JSON values; floats are cut to six significant digits so that the same plan prints alike everywhere.

    Without workings the lists of steps are empty. With sentences, those that hold values stand once more under "said", by their text: their
    pattern and values, so that a plan that is kept can be told in other units later.
    """
    document = (_whole if workings else _brief).write(plan)
    return document | {"said": sentences_of(plan)} if sentences else document


def plan_from_document(document: dict[str, Any]) -> Plan:
    """The plan back from plan_to_document. Raises pydantic.ValidationError on a document of another shape."""
    plan = _adapter().validate_python(_read(document))
    said = document.get("said")
    return with_sentences(plan, said) if said else plan


@record(kw_only=True)
class Dressing:
    """Something that a kept plan puts on: its first day, what for ("CaCO3", "P"), how much [kg] of which material."""

    day: date
    what: str
    total_kg: float
    name: str
    material: str = ""
    last_day: date | None = None


def dressings_in(document: dict[str, Any]) -> list[Dressing]:
    """What a kept plan puts on, without the parts that wait for a new test."""
    rows = document.get("applications", ())
    return [
        Dressing(
            day=date.fromisoformat(row["from"]),
            what=row["what"],
            total_kg=row["total_kg"],
            name=row["name"],
            material=row["material"],
            last_day=date.fromisoformat(row["to"]),
        )
        for row in rows
        if not row["later"]
    ]


def _read(value: Any) -> Any:
    if isinstance(value, dict):
        return {_READ.get(key, key): _read(item) for key, item in value.items()}
    return [_read(item) for item in value] if isinstance(value, list) else value


def request_schema() -> dict[str, Any]:
    return RequestDoc.model_json_schema()


def plan_schema() -> dict[str, Any]:
    """JSON Schema of a plan as plan_to_document writes it."""
    return _renamed(_adapter().json_schema(mode="serialization"))


def _renamed(schema: Any) -> Any:
    if isinstance(schema, dict):
        renamed = {WRITTEN.get(key, key): _renamed(item) for key, item in schema.items()}
        if "required" in renamed:
            renamed["required"] = [WRITTEN.get(name, name) for name in renamed["required"]]
        return renamed
    return [_renamed(item) for item in schema] if isinstance(schema, list) else schema


def told_apart(theirs: Sequence[Dressing], ours: Sequence[Dressing], tables: Tables) -> list[str]:
    """Where two plans for one ground part, a sentence to each material [kg on the plot]; what is near enough is passed over.

    Source: definition.

    >>> from agronomy.intake.example import tables
    >>> day = date(2027, 3, 1)
    >>> lime = Dressing(day=day, what="CaCO3", total_kg=9.0, name="lime", material="ground_limestone")
    >>> told_apart([lime], [], tables)
    ['9 kg lime stands in the file, and nothing of it here.']
    """
    names = {item.material: item.name for item in (*theirs, *ours)}
    found = []
    for key, name in names.items():
        there, here = (sum(item.total_kg for item in plan if item.material == key) for plan in (theirs, ours))
        if not here:
            found.append(f"{mass(there, 'metric', 3)} {name} stands in the file, and nothing of it here.")
        elif not there:
            found.append(f"{mass(here, 'metric', 3)} {name} stands here, and nothing of it in the file.")
        elif beside_plan(here, there, tables):
            found.append(f"{mass(here, 'metric', 3)} {name} here, {mass(there, 'metric', 3)} in the file.")
    return found
