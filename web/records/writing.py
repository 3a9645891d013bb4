"""Writing to the log: an entry and the lot it takes from; a correction that leaves the first entry standing."""

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
        lot.refresh_from_db()
        entry.lot, entry.lot_kg = lot, min(entry.kg, lot.kg)
        entry.price_per_kg = lot.price_per_kg
        lot.kg -= entry.lot_kg  # under the lock of the holding nobody else changes it
        lot.save(update_fields=["kg"])
        touched.append(lot)
    if entry.price_per_kg is None and material is not None:
        entry.price_per_kg = material.list_price_per_kg
    entry.save()
    return touched


def give_back(entry: LogEntry) -> list:
    """Puts what an entry took back on its lot, before a correction takes anew."""
    if entry.lot_id is None or not entry.lot_kg:
        return []
    entry.lot.refresh_from_db()
    entry.lot.kg += entry.lot_kg
    entry.lot.save(update_fields=["kg"])
    return [entry.lot]
