"""The plan as a whole: what an adviser would say of a plot, and what must always hold."""

import json

import jsonschema
import pytest

from agronomy.intake.documents import plan_from_document, plan_schema, plan_to_document, request_schema
from benchmarks.made_up import requests
from tests.helpers.requests import ACID, TABLES, document, finding, need, plan, reading


def says(made) -> str:
    return " ".join([item.why for item in made.unmet] + [item.why for item in made.nothing])


def test_acid_border_gets_lime_in_its_cap_and_no_phosphate():
    made = plan(document(*ACID))
    lime = next(item for item in made.applications if item.what == "CaCO3")
    assert lime.material == "dolomitic_limestone_ground"  # magnesium is short on sandy ground
    assert lime.total_kg == pytest.approx(9.0)  # 0.5 kg/m2 is the most for one digging
    assert lime.low_kg < lime.total_kg < lime.high_kg
    assert (lime.from_.isoformat(), lime.placement) == ("2026-10-05", "worked in to 15 cm")
    assert all("P" not in item.supplies for item in made.applications)
    assert finding(made, "P").class_ == "excess"
    assert "No extra magnesium" in says(made)
    assert made.retest.isoformat() == "2027-10-03"


def test_expected_ph_rises_no_further_than_the_target():
    ph = finding(plan(document(*ACID)), "pH")
    assert ph.value < ph.expected <= 6.5


def test_right_ph_gets_no_lime_with_its_reason():
    made = plan(document(reading("pH", 6.6)))
    assert not [item for item in made.applications if item.what == "CaCO3"]
    assert "No lime: pH 6.6 is not below 6.2" in says(made)


def test_too_close_to_the_border_means_test_again():
    made = plan(document(reading("pH", 6.15)))
    assert need(made, "CaCO3") is None
    assert "reading's error could explain it" in says(made)


def test_colour_kit_gives_half_and_a_wide_range():
    kit, lab = (plan(document(reading("pH", value, how=how))) for value, how in (([5.0, 5.5], "kit"), (5.25, "lab")))
    assert need(kit, "CaCO3").share_now == 0.5
    assert "other half waits" in says(kit)
    width = [need(made, "CaCO3").high_kg_per_ha - need(made, "CaCO3").low_kg_per_ha for made in (kit, lab)]
    assert width[0] > width[1]


@pytest.mark.parametrize("how", ["strip", "probe"])
def test_strip_and_probe_never_carry_a_rate(how):
    made = plan(document(reading("pH", 4.8, how=how)))
    assert need(made, "CaCO3") is None
    assert "can't carry a lime rate" in says(made)


def test_without_a_buffer_the_range_is_honestly_wider():
    with_buffer, without = plan(document(*ACID)), plan(document(*ACID[:1], *ACID[2:]))
    relative = [
        (item.high_kg_per_ha - item.low_kg_per_ha) / item.rate_kg_per_ha for item in (need(with_buffer, "CaCO3"), need(without, "CaCO3"))
    ]
    assert relative[1] > relative[0]
    assert need(with_buffer, "CaCO3").others[0].method == "pH, texture and organic matter"


def test_undug_ground_limes_only_the_top_and_waits_with_the_rest():
    made = plan(document(*ACID, dug=False))
    dressings = [item for item in made.applications if item.what == "CaCO3"]
    assert all(item.rate_kg_per_ha <= 2400.001 for item in dressings)
    assert need(made, "CaCO3").rate_kg_per_ha == pytest.approx(need(plan(document(*ACID)), "CaCO3").rate_kg_per_ha / 2)


def test_acid_lover_gets_sulfur_in_doses_that_wait_for_tests():
    made = plan(document(reading("pH", 6.4), crop="blueberry", planting="2028-03-20", texture="loam"))
    doses = [item for item in made.applications if item.what == "S_acid"]
    assert [item.later for item in doses] == [False, True]
    assert all(item.rate_kg_per_ha * 0.9 <= 1000.001 for item in doses)
    assert doses[0].from_.month in range(4, 10)  # bacteria sleep in the cold


@pytest.mark.parametrize(
    ("free_lime", "ph", "reason"),
    [
        (True, 7.0, "There is free lime"),
        (None, 7.9, "free lime is nearly certain"),
        (None, 7.4, "Drip strong vinegar"),
        (False, 8.4, "more sulfur than is worth"),
    ],
)
def test_sulfur_is_refused_with_another_way(free_lime, ph, reason):
    made = plan(document(reading("pH", ph), crop="blueberry", texture="clay", free_lime=free_lime))
    assert need(made, "S_acid") is None
    assert reason in says(made)


def test_nothing_brings_what_is_plenty_or_chloride_where_it_hurts():
    made = plan(
        document(
            *ACID[:2],
            reading("P", 300, "mg/kg", "Mehlich 3"),
            reading("K", 40, "mg/kg", "Mehlich 3"),
            crop="strawberry",
            planting="2027-08-10",
        )
    )
    assert all("P" not in item.supplies for item in made.applications)
    assert {item.material for item in made.applications}.isdisjoint({"potassium_chloride", "kelp_meal"})


def test_organic_only_uses_no_synthetics():
    made = plan(document(*ACID, crop="cabbage", planting="2027-04-20"), allow={"organic_only": True})
    used = {item.material for item in made.applications}
    assert used
    assert all(TABLES.materials[key].is_organic_allowed for key in used)


def test_stock_goes_first_and_prices_decide():
    shed = [{"material": "magnesian_lime_pelletised", "in_stock": "40 lb", "price": "9 per 20 kg"}]
    made = plan(document(*ACID), shed=shed)
    lime = next(item for item in made.applications if item.what == "CaCO3")
    assert lime.material == "magnesian_lime_pelletised"
    assert lime.cost == pytest.approx(lime.total_kg * 0.45, abs=0.01)


def test_only_what_was_named_is_used_and_the_rest_stays_open():
    made = plan(document(*ACID), materials=["urea"])
    assert {item.material for item in made.applications} == {"urea"}
    assert {"CaCO3", "K"} <= {item.what for item in made.unmet}


def test_legume_gets_no_nitrogen():
    assert need(plan(document(reading("pH", 6.8), crop="broad_beans")), "N") is None


def test_short_calcium_comes_with_lime_or_is_left_open():
    calcium = reading("Ca", 200, "mg/kg", "ammonium acetate")
    assert "the lime brings it" in says(plan(document(*ACID, calcium)))
    assert "Gypsum would bring it" in says(plan(document(reading("pH", 6.6), calcium)))


def test_a_carrier_of_two_counts_for_both():
    made = plan(
        document(reading("pH", 6.8), reading("P", 12, "mg/kg", "Olsen"), crop="parsnip", texture="loam", organic_matter_pct=9),
        materials=["dap"],
    )
    assert {item.what for item in made.applications} == {"P"}
    assert "No extra nitrogen: the di-ammonium phosphate of this plan" in says(made)


def test_light_ground_splits_nitrogen_and_potassium():
    light, heavy = (
        plan(document(reading("pH", 6.8), reading("K", 20, "mg/kg", "ammonium acetate"), crop="broccoli", texture=name))
        for name in ("sand", "clay")
    )
    count = {
        name: {what: sum(item.what == what for item in made.applications) for what in "NK"}
        for name, made in (("light", light), ("heavy", heavy))
    }
    assert count["light"]["K"] == 2
    assert count["heavy"]["K"] == 1
    assert count["light"]["N"] > count["heavy"]["N"] >= 2


def test_south_has_its_seasons_six_months_on():
    months = {
        side: {
            item.from_.month
            for item in plan(document(*ACID, crop="hop", planting=None, hemisphere=side)).applications
            if item.what == "CaCO3"
        }
        for side in ("north", "south")
    }
    assert months == {"north": {10}, "south": {4}}  # two weeks after the last picking


def test_late_lime_parts_from_nitrogen_by_two_weeks():
    made = plan(document(*ACID, planting="2026-10-28"))
    lime = next(item for item in made.applications if item.what == "CaCO3")
    assert "Later than it should be" in lime.timing_note
    assert all((item.from_ - lime.to).days >= 14 for item in made.applications if item.what == "N")


def test_a_thousand_made_up_plots_all_get_a_plan():
    for doc in requests(1000, sorted(TABLES.crops)):
        assert plan(doc).findings


def test_every_figure_opens_down_to_a_known_source():
    made = plan(document(*ACID))
    workings = [item.working for item in (*made.findings, *made.needs, *made.applications)] + [made.soil.working]
    assert all(workings)
    for step in (step for working in workings for step in working):
        assert step.result.value is not None
        assert all(key in TABLES.sources for key in step.source.split(";")), step


def test_contradiction_is_told_and_unknown_is_not_called_zero():
    made = plan(document(reading("pH", 5.6), reading("buffer pH", 5.1, method="SMP"), reading("OC", 2, "%", "dry combustion")))
    assert "swapped" in made.doubts[0]
    assert [item.analyte for item in made.unjudged] == ["OC"]


def test_no_ph_means_no_word_on_lime():
    made = plan(document(reading("K", 50, "mg/kg", "ammonium acetate")))
    assert "no pH reading" in says(made)


def test_plan_and_request_fit_their_schemas_and_come_back_whole():
    doc = document(*ACID)
    written = plan_to_document(plan(doc))
    jsonschema.validate(doc, request_schema())
    jsonschema.validate(json.loads(json.dumps(written)), plan_schema())
    assert plan_to_document(plan_from_document(written)) == written
    assert {"class", "why"} <= set(written["findings"][0])
    assert {"from", "to", "measure", "supplies", "placement"} <= set(written["applications"][0])
