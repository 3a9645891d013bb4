"""Every figure of the trade: `data/` with a source to each row, a typed row class to each table, the loader that refuses what is wrong.

`load_tables()` is the one door; the result is passed on.
May import base.
"""

from agronomy.tables.loader import Tables, load_tables

__all__ = ["Tables", "load_tables"]
