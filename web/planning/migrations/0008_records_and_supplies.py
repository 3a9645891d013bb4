from django.db import migrations

MOVED = {"LogEntry": "records", "LogPhoto": "records", "SupplierOffer": "supplies", "Supplier": "supplies", "StockLot": "supplies"}


class Migration(migrations.Migration):
    """The log and the shed get apps of their own: the tables are renamed, and not a row is touched."""

    dependencies = [
        ("jobs", "0003_bounds_and_retired_plots"),
        ("planning", "0007_bounds_and_retired_plots"),
    ]

    operations = [
        *(migrations.AlterModelTable(name=name, table=f"{app}_{name.lower()}") for name, app in MOVED.items()),
        migrations.SeparateDatabaseAndState(state_operations=[migrations.DeleteModel(name=name) for name in MOVED]),
    ]
