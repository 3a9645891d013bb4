"""What a plot's water, cover, stones and the depth of its samples mean for its plan."""

from dataclasses import replace

import pytest

from agronomy.intake.request import read_request
from agronomy.whatif.forecast.outlook import outlook
from tests.helpers.requests import TABLES, document, need, plan, reading

BED = (reading("pH", 7.0, method="water 1:1"), reading("B", 0.3, "mg/kg", "hot water"))
HARD = (reading("alkalinity", 240), reading("water NO3-N", 12), reading("water B", 1.1), reading("water Na", 90))


def credit(made, key):
    return next((item for item in made.credits if item.key == key), None)


def test_water_is_counted_once_its_amount_is_known():
    told = plan(document(*BED, *HARD, crop="cabbage", watering_a_season="300 mm"))
    asked = plan(document(*BED, *HARD, crop="cabbage"))
    assert credit(told, "water").kg_per_ha == pytest.approx(12 * 300 * 0.01 * 0.8)
    assert credit(asked, "water") is None
    assert any("how much you water" in remark.says for remark in asked.remarks)
    assert any("72 g/m²" in remark.says for remark in told.remarks)  # 240 mg/L x 300 mm: 720 kg/ha
    left_out = plan(document(*BED, *HARD, crop="cabbage", watering_a_season="300 mm"), uncounted=["water"])
    assert not credit(left_out, "water").counted


def test_no_boron_is_given_where_the_water_brings_it():
    assert need(plan(document(*BED, crop="cabbage")), "B") is not None
    watered = plan(document(*BED, *HARD, crop="cabbage"))
    assert need(watered, "B") is None
    assert any(item.nutrient == "B" and "your water brings it" in item.why for item in watered.nothing)


def test_hard_water_holds_the_forecast_of_ph_up():
    request = read_request(document(*BED, *HARD, crop="cabbage", watering_a_season="300 mm"), TABLES)
    dry = replace(request, plot=replace(request.plot, watering_mm=None))
    hard, plain = (next(item.value for item in outlook(asked, TABLES).of("pH") if item.years == 5) for asked in (request, dry))
    assert hard > plain + 0.1


@pytest.mark.parametrize(
    ("crop", "kind", "water", "word"),
    [("peas", "bed", "chlorine", "inoculant"), ("zinnia", "bale", "chloramine", "bale")],
)
def test_treated_water_and_what_lives(crop, kind, water, word):
    sizes = (
        {"area": None, "sizes": {"count": 6, "bale_length": "90 cm", "bale_width": "45 cm", "bale_height": "40 cm"}}
        if kind == "bale"
        else {}
    )
    made = plan(document(reading(water, 2.0), crop=crop, kind=kind, **sizes))
    assert any(word in item.says for item in made.advice if "chlor" in item.says.lower())


def test_nitrate_of_each_layer_by_its_own_depth():
    top = reading("NO3-N", 12, "mg/kg") | {"top": "0 cm", "bottom": "30 cm"}
    below = reading("NO3-N", 8, "mg/kg") | {"top": "30 cm", "bottom": "60 cm"}
    one, both = (credit(plan(document(*layers, crop="cabbage", planting="2026-10-20")), "nitrate") for layers in ((top,), (top, below)))
    assert both.kg_per_ha == pytest.approx(one.kg_per_ha * 20 / 12)
    assert len(both.working) == 2
    subsoil = plan(document(reading("P", 90, "mg/kg", "Mehlich 3") | {"top": "40 cm", "bottom": "60 cm"}, crop="cabbage"))
    assert not any(item.analyte == "P" for item in subsoil.findings)


def test_a_nitrate_test_without_a_day_is_asked_about():
    made = plan(document(reading("NO3-N", 12, "mg/kg") | {"taken": None}, crop="cabbage"))
    assert not credit(made, "nitrate").counted
    assert any("When was the nitrate sampled" in text for text in made.doubts)


def test_stones_and_low_activity_clay_want_less():
    acid = (reading("pH", 5.2, method="water 1:1"),)
    plain, stony, kaolin = (
        need(plan(document(*acid, crop="cabbage", texture="clay", **told)), "CaCO3").rate_kg_per_ha
        for told in ({}, {"stones_pct": 30}, {"cec_cmol_per_kg": 6})
    )
    assert stony == pytest.approx(plain * 0.7)
    assert kaolin < plain * 0.7


def test_a_country_that_limes_by_the_type_of_soil_leads_with_it():
    acid = document(reading("pH", 5.6, method="water 1:2.5"), crop="spring_barley", texture="sandy loam", depth="20 cm", area="8 ha")
    acid["plot"]["kind"] = "field"
    lime = need(plan(acid, country="gb"), "CaCO3")
    assert lime.method == "soil-type factor"
    assert lime.rate_kg_per_ha == pytest.approx(7 * (6.5 + 0.2 - 5.6) * 1000 * TABLES.acidity.soil_type_pure_share.value)
    assert need(plan(acid), "CaCO3").method != "soil-type factor"


def test_a_small_bed_gets_one_compound_and_is_told_what_is_left():
    short = (reading("pH", 6.5), reading("P", 30, "mg/kg", "Mehlich 3"), reading("K", 120, "mg/kg", "Mehlich 3"))
    small, large = (plan(document(*short, crop="leek", area=area)) for area in ("6 m2", "60 m2"))
    assert len({item.material for item in small.applications}) < len({item.material for item in large.applications})
    assert any(item.nutrient == "K" and "no second product" in item.why for item in small.nothing)


@pytest.mark.parametrize(
    ("ec", "crop", "headline", "says"),
    [
        (0.4, "beans", "", ""),
        (1.2, "beans", "", "Give 46 % more"),
        (4.0, "beans", "too salty", "too salty"),
        (4.0, "spring_barley", "", "Give"),
    ],
)
def test_salty_water_is_washed_through_or_refused_by_what_the_crop_bears(ec, crop, headline, says):
    made = plan(document(*BED, reading("water EC", ec, "dS/m"), crop=crop))
    assert ("The water is too salty" in made.headline) == bool(headline)
    assert any(says and says in item.says for item in made.remarks) == bool(says)
