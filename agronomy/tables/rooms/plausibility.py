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
    no_free_lime_below_ph: Annotated[Parameter, Within(5, 7.5, "pH")]
    carbonate_in_acid_pct: Annotated[Parameter, Within(0.2, 10, "%")]
    calcium_of_known_cec: Annotated[Parameter, Within(1, 3, "fraction")]
    calcium_of_supposed_cec: Annotated[Parameter, Within(1, 4, "fraction")]
    quarrel_errors: Annotated[Parameter, Within(1, 5, "standard errors")]
    beyond_typical: Annotated[Parameter, Within(1.2, 10, "times")]
