"""Published and hand-worked cases, from the tables in `cases/`."""

import pytest

from agronomy.intake.conversion import convert
from agronomy.model.reading import read
from agronomy.model.soil import cec_estimate, texture_class
from agronomy.products.liming import lime_rate
from agronomy.recommend.acidity.buffer_capacity import buffer_capacity, estimated_lime_need, per_litre
from agronomy.recommend.acidity.other_methods import (
    adams_evans_lime_need,
    aluminium_lime_need,
    base_saturation_lime_need,
    mehlich_tons_per_acre,
    soil_type_factor_rate,
    tolerated_aluminium_lime_need,
)
from agronomy.recommend.acidity.smp import smp_lime_need, smp_table_rate
from agronomy.recommend.acidity.sulfur_need import carbonate_sulfur, table_sulfur
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, finding, plan, reading


@pytest.mark.parametrize("case", cases("units"))
def test_units(case):
    keywords = {key: case.get(key) for key in ("depth", "bulk_density", "material")}
    assert convert(*case["given"], **keywords, tables=TABLES)["value"] == pytest.approx(case["expect"], rel=0.001)


@pytest.mark.parametrize("case", cases("texture"))
def test_texture(case):
    assert texture_class(*case["given"]) == case["expect"]


def _soil(clay_pct=20.0, organic_matter_pct=3.0, bulk_density=None, **_):
    from agronomy.intake.request import read_request
    from agronomy.model.soil import describe_soil

    request = read_request(document(depth="20 cm", texture="loam", bulk_density_g_per_cm3=bulk_density), TABLES)
    soil = describe_soil(request.plot, organic_matter_pct, None, 6.0, TABLES)
    assert soil.clay_pct == clay_pct
    return soil


def _estimated(ph, target_ph, depth_cm, **ground):
    return estimated_lime_need(ph, 0.1, target_ph=target_ph, depth_cm=depth_cm, soil=_soil(**ground), tables=TABLES).value


def _layer(mass_t_per_ha: float, texture: str = "loam"):
    """A soil whose layer of 20 cm weighs so much."""
    from dataclasses import replace

    from agronomy.intake.request import read_request
    from agronomy.model.soil import describe_soil

    soil = describe_soil(read_request(document(depth="20 cm", texture=texture), TABLES).plot, 2.0, None, 6.0, TABLES)
    return replace(soil, bulk_density_g_per_cm3=mass_t_per_ha / 2000)


def _adams_evans(ph, buffer_ph, target_ph):
    return adams_evans_lime_need(ph, buffer_ph, 0.05, target_ph=target_ph, depth_cm=20, soil=_layer(2241.7), tables=TABLES).value


RULES = {
    "mehlich": lambda **given: mehlich_tons_per_acre(**given, tables=TABLES),
    "adams_evans": _adams_evans,
    "aluminium": lambda aluminium, mass_t_per_ha: (
        aluminium_lime_need(aluminium, 0.1, depth_cm=20, soil=_layer(mass_t_per_ha), tables=TABLES).value
    ),
    "soil_type": lambda texture, **given: soil_type_factor_rate(**given, soil=_layer(2600, texture), tables=TABLES),
    "smp_table": lambda **given: smp_table_rate(**given, tables=TABLES),
    "smp_need": lambda buffer_ph, **given: smp_lime_need(buffer_ph, 0.05, **given, soil=_soil(), tables=TABLES).value,
    "buffer_capacity": lambda **given: buffer_capacity(**given, tables=TABLES),
    "estimated_need": _estimated,
    "lime_rate": lambda caco3_kg_per_ha, **given: lime_rate(caco3_kg_per_ha, **given),
    "ph_water": lambda typed, method: read("pH", typed, unit="", method=method, how="lab", taken=None, tables=TABLES).value,
    "sulfur_table": lambda ph, target_ph, **given: table_sulfur(ph, target_ph, **given, tables=TABLES),
    "tolerated_aluminium": lambda aluminium, bases, tolerated, mass: tolerated_aluminium_lime_need(
        aluminium, bases, tolerated, soil_mass_t_per_ha=mass, tables=TABLES
    ),
    "base_saturation": lambda cec, now, target: base_saturation_lime_need(cec, now, target, depth_cm=20),
    "carbonate": lambda pct, density, depth_cm: carbonate_sulfur(pct, depth_cm, _soil(bulk_density=density), TABLES),
    "per_litre": per_litre,
    "cec": lambda **given: cec_estimate(**given),
}


@pytest.mark.parametrize("case", cases("acidity"))
def test_acidity(case):
    assert RULES[case["what"]](**case["given"]) == pytest.approx(case["expect"], rel=case["tolerance"]), case["whose"]


@pytest.mark.parametrize("case", cases("classes"))
def test_class(case):
    given = case["given"]
    readings = [reading(given["analyte"], given["value"], given.get("unit", "mg/kg"), given["method"]), reading("CEC", 10, "cmol/kg")]
    readings += [reading("pH", given["ph"])] if "ph" in given else []
    made = plan(document(*readings, crop=given["crop"], texture="loam"))
    if case["expect"] == "no rule":
        assert given["analyte"] in {item.analyte for item in made.unjudged}
    else:
        assert finding(made, given["analyte"]).class_ == case["expect"], case["whose"]
