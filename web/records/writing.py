"""Writing to the log: an entry and the lot it takes from; a correction that leaves the first entry standing."""

from django.db.models import F

from agronomy.ledger.totals import supplied
from web.core import tables
from web.records.models import LogEntry
from web.supplies.models import StockLot


def write(entry: LogEntry, lot: StockLot | None) -> list:
    """Stores a new entry; takes its kilos off the lot, never below zero. All rows that were touched come back."""
    touched = [entry]
    material = tables().materials.get(entry.material)
    entry.supplies = {key: round(amount, 6) for key, amount in supplied(material, entry.kg).items()} if material else {}
    if lot is not None:
        entry.lot, entry.lot_kg = lot, min(entry.kg, lot.kg)
        entry.price_per_kg = lot.price_per_kg
        StockLot.objects.filter(pk=lot.pk).update(kg=F("kg") - entry.lot_kg)
        lot.refresh_from_db()
        touched.append(lot)
    if entry.price_per_kg is None and material is not None:
        entry.price_per_kg = material.list_price_per_kg
    entry.save()
    return touched


def give_back(entry: LogEntry) -> list:
    """Puts what an entry took back on its lot, before a correction takes anew."""
    if entry.lot_id is None or not entry.lot_kg:
        return []
    StockLot.objects.filter(pk=entry.lot_id).update(kg=F("kg") + entry.lot_kg)
    entry.lot.refresh_from_db()
    return [entry.lot]
