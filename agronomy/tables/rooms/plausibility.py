"""What cannot be true between readings."""

from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Within
from agronomy.tables.row import Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class Plausibility:
    """What cannot be true between readings."""

    FIGURES: ClassVar[str] = "plausibility.toml"

    cations_most_of_cec: Annotated[Parameter, Within(1, 2, "fraction")]
    cations_least_of_cec: Annotated[Parameter, Within(0.02, 0.8, "fraction")]
    cations_ph_limit: Annotated[Parameter, Within(6.5, 8.5, "pH")]
    jump_errors: Annotated[Parameter, Within(1, 10, "standard errors")]
    telling_jump_errors: Annotated[Parameter, Within(0.5, 6, "standard errors")]
    jump_share: Annotated[Parameter, Within(0.1, 2, "fraction")]
    factor_within: Annotated[Parameter, Within(0.02, 0.5, "fraction")]
