"""An entry of the log as pages tell it."""

from agronomy.base import showing
from agronomy.ledger.totals import beside_plan
from web.core import tables
from web.date_format import said
from web.records.models import LogEntry


def told_entry(entry: LogEntry, place) -> dict:
    """An entry of the log beside what was planned, and what it was first written as where it corrects another."""
    found = {
        "pk": entry.pk,
        "name": entry.name,
        "plot": entry.plot,
        "weight": showing.mass(entry.kg, place.units, 3),
        "on": entry.done_on,
        "by": entry.by,
        "weather": entry.weather,
        "note": entry.note,
        "photo": entry.photo_id,
        "beside": "",
        "before": "",
    }
    share = beside_plan(entry.kg, entry.planned_kg, tables())
    if share is not None:
        planned = showing.mass(entry.planned_kg, place.units, 3)
        found["beside"] = (
            f"{abs(share) * 100:.0f} % {'more' if share > 0 else 'less'} than the {planned} planned" if share else "as planned"
        )
    if entry.corrects:
        found["before"] = f"{showing.mass(entry.corrects.kg, place.units, 3)} on {said(entry.corrects.done_on, 'j M Y')}"
    return found
