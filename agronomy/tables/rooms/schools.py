"""Figures of the schools."""

from dataclasses import dataclass
from typing import Annotated, ClassVar

from agronomy.tables.columns import Within
from agronomy.tables.row import Parameter


@dataclass(frozen=True, slots=True, kw_only=True)
class Schools:
    """Figures of the schools."""

    FIGURES: ClassVar[str] = "schools.toml"

    build_years: Annotated[Parameter, Within(1, 20, "years")]
    p2o5_per_ppm_kg_per_ha: Annotated[Parameter, Within(3, 100, "kg P2O5/ha per mg/kg")]
    most_times_at_zero: Annotated[Parameter, Within(1, 4, "times")]
    p_plateau_ppm: Annotated[Parameter, Within(2, 60, "mg/kg")]
    p_drawdown_ppm: Annotated[Parameter, Within(2, 60, "mg/kg")]
    p_reference_level_ppm: Annotated[Parameter, Within(5, 40, "mg/kg")]
    k_plateau_ppm: Annotated[Parameter, Within(5, 120, "mg/kg")]
    k_drawdown_ppm: Annotated[Parameter, Within(5, 120, "mg/kg")]
    k2o_per_ppm_kg_per_ha: Annotated[Parameter, Within(0.2, 10, "kg K2O/ha per mg/kg")]
    k2o_per_ppm_and_cec: Annotated[Parameter, Within(0.005, 0.3, "per cmol/kg")]
    leaf_short_k2o_kg_per_ha: Annotated[Parameter, Within(10, 200, "kg K2O/ha")]
    leaf_short_times: Annotated[Parameter, Within(1, 3, "times")]
    fixes_from_al_cmol_per_kg: Annotated[Parameter, Within(0.1, 5, "cmol/kg")]
    fixing_times: Annotated[Parameter, Within(1, 4, "times")]
    untested_least_p_kg_per_ha: Annotated[Parameter, Within(1, 40, "kg P/ha")]
    untested_most_n_kg_per_ha: Annotated[Parameter, Within(20, 300, "kg N/ha")]
    hungry_from_kg_k2o_per_ha: Annotated[Parameter, Within(50, 400, "kg K2O/ha")]
    near_level_from_kg_k2o_per_ha: Annotated[Parameter, Within(30, 300, "kg K2O/ha")]
    near_level_times: Annotated[Parameter, Within(1, 2, "times")]
    hungry_share_at_plenty: Annotated[Parameter, Within(0, 1, "fraction")]
    hungry_most_kg_k2o_per_ha: Annotated[Parameter, Within(100, 600, "kg K2O/ha")]
    k_build_most_kg_per_ha: Annotated[Parameter, Within(20, 400, "kg K2O/ha")]
    k2o_extra_kg_per_ha: Annotated[Parameter, Within(0, 100, "kg K2O/ha")]
    k2o_cap_kg_per_ha: Annotated[Parameter, Within(100, 800, "kg K2O/ha")]
    k_build_least_cec: Annotated[Parameter, Within(1, 15, "cmol/kg")]
    cation_least_cec: Annotated[Parameter, Within(1, 15, "cmol/kg")]
    cation_most_cec: Annotated[Parameter, Within(20, 80, "cmol/kg")]
    cation_least_ph: Annotated[Parameter, Within(4, 6, "pH")]
    cation_most_ph: Annotated[Parameter, Within(6.5, 8.5, "pH")]
    cation_most_mg: Annotated[Parameter, Within(20, 400, "kg/ha")]
    cation_most_k: Annotated[Parameter, Within(50, 600, "kg/ha")]
    cation_share_ca: Annotated[Parameter, Within(40, 90, "%")]
    cation_share_mg: Annotated[Parameter, Within(3, 40, "%")]
    cation_share_k: Annotated[Parameter, Within(0.5, 12, "%")]
    low_input_share: Annotated[Parameter, Within(0.1, 1, "fraction")]
    low_input_ph_slack: Annotated[Parameter, Within(0, 1.5, "pH")]
    compost_p2o5_pct: Annotated[Parameter, Within(0.02, 3, "%")]
    compost_n_pct: Annotated[Parameter, Within(0.05, 4, "%")]
    compost_n_cap_kg_per_ha: Annotated[Parameter, Within(20, 500, "kg N/ha")]
    compost_most_t_per_ha: Annotated[Parameter, Within(5, 200, "t/ha")]
    removal_spread: Annotated[Parameter, Within(0.02, 0.8, "fraction")]
    fit_alkaline_by: Annotated[Parameter, Within(0.2, 4, "pH")]
    fit_acid_by: Annotated[Parameter, Within(0.2, 4, "pH")]
    cation_share_na: Annotated[Parameter, Within(0, 15, "%")]
    untested_share: Annotated[Parameter, Within(0.1, 1, "fraction")]

    def cation_share(self, cation: str) -> Parameter:
        """The share of the exchange capacity that Ca, Mg, K or Na should hold."""
        return {"Ca": self.cation_share_ca, "Mg": self.cation_share_mg, "K": self.cation_share_k, "Na": self.cation_share_na}[cation]
