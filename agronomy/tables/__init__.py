"""Every figure of the trade: `data/` with a source to each row, a typed row class to each table, the loader that refuses what is wrong.

`load_tables()` is the one door; the result is passed on.
May import base.
"""

from agronomy.tables.all_tables import Tables
from agronomy.tables.loader import load_tables, read_tables
from agronomy.tables.reading_files import TableError

__all__ = ["TableError", "Tables", "load_tables", "read_tables"]
