"""Who says so: what the rows of every table rest on."""

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from agronomy.tables.columns import Status
from agronomy.tables.row import Row


@dataclass(frozen=True, slots=True, kw_only=True)
class Source(Row):
    """One row of `data/sources.csv`."""

    key: Annotated[str, re.compile(r"[a-z0-9][a-z0-9-]*")]
    cite: str
    kind: Literal["article", "definition", "estimate", "guide", "own", "paper", "rule", "standard", "textbook", "user"]
    status: Status
