"""What an addition makes harder to get."""

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from agronomy.tables.columns import Key, Names, Within
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class Upset(Cited):
    """What an addition makes harder to get."""

    key: Key
    added: Literal["CaCO3", "S_acid", "N", "P", "K", "Mg"]
    affects: Annotated[str, Names("analytes")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Balance:
    """What an addition makes harder to get."""

    FIGURES: ClassVar[str] = "balance/figures.toml"

    k_to_mg_mg: Annotated[Parameter, Within(0.5, 10, "mg K per mg Mg")]
    k_to_mg_charge: Annotated[Parameter, Within(0.2, 5, "cmol K per cmol Mg")]
    ca_to_mg_least: Annotated[Parameter, Within(0.5, 5, "cmol Ca per cmol Mg")]
    ca_to_mg_most: Annotated[Parameter, Within(5, 50, "cmol Ca per cmol Mg")]
    ammonium_share: Annotated[Parameter, Within(0, 1, "fraction")]
    sulfur_for_nitrogen: Annotated[Parameter, Within(20, 300, "kg N/ha")]
    sulfur_to_nitrogen: Annotated[Parameter, Within(0.02, 0.5, "kg S per kg N")]
    p_near_water_m: Annotated[Parameter, Within(2, 200, "m")]
    p_on_slope_pct: Annotated[Parameter, Within(1, 30, "%")]
    nitrate_washes: Annotated[Parameter, Within(2, 100, "mg/kg NO3-N")]
    upsets: Annotated[tuple[Upset, ...], Csv("balance/upsets.csv")]
