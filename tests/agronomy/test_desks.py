"""Desks: published cases, and what must hold of every tank, tray, blend, band, bale, portion and manure."""

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from agronomy.apply.acid import acid_meq, acidify
from agronomy.apply.bale import start_bales, straw_demand_kg_per_t
from agronomy.apply.band import band_limit, check_band, seed_limit
from agronomy.apply.blend import BlendPart, batch, beside_bought, blend, per_plant
from agronomy.apply.calibration import coefficient_of_variation, rate_by_bucket, rate_by_walk, setting_for, tray_test
from agronomy.apply.manure import available_n_per_t, manure_rate
from agronomy.apply.measures import Geometry, counts, portions, rounded
from agronomy.apply.micronutrients import ELEMENTS, boron_solution, holds_at, micronutrient_ways
from agronomy.apply.tank import Part, fed_kg_per_ha, stock_g_per_l, tank
from agronomy.apply.uptake import NitrogenDressing, balance
from agronomy.base.errors import RuleError
from agronomy.dose.household import bags
from agronomy.intake.request import read_request
from agronomy.model.answers import Need
from agronomy.model.climate import climate_of
from agronomy.plan.assess import assess
from agronomy.plan.micronutrients import short_by_test, ways_here
from agronomy.products.sieves import effective_value, reacting_share, schemes
from agronomy.recommend.nutrients.release import released_by
from agronomy.whatif.ways import quick_ways, upkeep_sulfur, vinegar_l_per_m2
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, reading

MATERIALS, CROPS = TABLES.materials, TABLES.crops
SOIL = assess(read_request(document(reading("pH", 6.5), texture="loam"), TABLES), TABLES).soil
KEYS = st.sampled_from(sorted(MATERIALS))


def soil(cec: float):
    return replace(SOIL, cec_cmol_per_kg=cec)


def pair(first: str, second: str, by: str):
    return blend([BlendPart(MATERIALS[first], 1), BlendPart(MATERIALS[second], 1)], by, {}, TABLES)


RULES = {
    "acid_meq": lambda **given: acid_meq(**given),
    "acid": lambda acid: acidify(250, 7.8, 6.2, acid, TABLES).per_1000_l,
    "acid_brings": lambda acid: acidify(250, 7.8, 6.2, acid, TABLES).brings_mg_per_l,
    "walk": lambda **given: rate_by_walk(**given),
    "bucket": lambda **given: rate_by_bucket(**given),
    "cv": lambda values: coefficient_of_variation(values),
    "bags": lambda total_kg, bag_kg: bags(total_kg, replace(MATERIALS["urea"], bag_kg=bag_kg)).count,
    "stock": lambda **given: stock_g_per_l(**given),
    "fed": lambda **given: fed_kg_per_ha(**given),
    "straw": lambda kept, ratio: straw_demand_kg_per_t(45, 0.6, kept, ratio),
    "bale_demand": lambda material: start_bales(MATERIALS[material], 1, TABLES).demand_g,
    "bale_given": lambda material: start_bales(MATERIALS[material], 1, TABLES).given_g,
    "bale_dose": lambda material: start_bales(MATERIALS[material], 1, TABLES).days[0].product_g,
    "bale_days": lambda material: start_bales(MATERIALS[material], 1, TABLES).days[-1].day,
    "seed_limit": lambda crop, cec: seed_limit(CROPS[crop], soil(cec), TABLES),
    "seed_most": lambda crop, cec, row_spacing_m: seed_limit(CROPS[crop], soil(cec), TABLES) / (0.1 * row_spacing_m),
    "band_limit": lambda cec: band_limit(soil(cec), TABLES),
    "manure_n": lambda **given: available_n_per_t(**given),
    "manure_rate": lambda key, **given: manure_rate(key, TABLES, **given).t_per_ha,
    "manure_second": lambda key, **given: manure_rate(key, TABLES, **given).nitrogen[1],
    "release": lambda material, weeks, warmth_c: released_by(MATERIALS[material], weeks, warmth_c, TABLES),
    "sieves": lambda scheme: reacting_share(scheme, {4: 1, 8: 0.95, 10: 0.92, 20: 0.70, 30: 0.62, 50: 0.53, 60: 0.50, 100: 0.40}, TABLES),
    "effective": lambda: effective_value(92, 0.67, 4),
    "vinegar": lambda drop, depth_cm: vinegar_l_per_m2(
        drop, replace(SOIL, clay_pct=20.0, organic_matter_pct=3.0, bulk_density_g_per_cm3=1.3), depth_cm, TABLES
    ),
    "upkeep": lambda alkalinity, water_mm: upkeep_sulfur(alkalinity, water_mm, TABLES),
    "quick": lambda material: (
        next(
            way.needed_g_per_m2
            for way in quick_ways(
                Need(
                    what="S_acid",
                    rate_kg_per_ha=1000.0,
                    low_kg_per_ha=900.0,
                    high_kg_per_ha=1100.0,
                    method="",
                    why="",
                    share_now=1.0,
                    others=(),
                    working=(),
                ),
                7.0,
                TABLES,
            )
            if way.material.key == material
        )
        / 100
    ),
    "boron": lambda kg, area_m2: boron_solution(kg, area_m2, MATERIALS["borax"], TABLES)[0],
    "blend": lambda first, second, by, content: pair(first, second, by).contents[content],
    "blend_cce": lambda first, second, by: pair(first, second, by).cce,
}


@pytest.mark.parametrize("case", cases("desks"), ids=lambda case: case["say"])
def test_published(case):
    assert RULES[case["what"]](**case["given"]) == pytest.approx(case["expect"], rel=case["tolerance"], abs=1e-9), case["whose"]


@given(st.floats(30, 500), st.floats(6.5, 9.0), st.floats(4.8, 6.4), st.sampled_from(sorted(TABLES.liquids.acids)))
def test_acid_never_takes_more_alkalinity_than_there_is_and_lower_takes_more(alkalinity, ph, target, key):
    dose, lower = acidify(alkalinity, ph, target, key, TABLES), acidify(alkalinity, ph, target - 0.2, key, TABLES)
    assert 0 < dose.meq_per_l < lower.meq_per_l
    assert dose.left_mg_per_l <= alkalinity
    assert any("Acid into water, never water into acid" in said for said in dose.warnings)
    assert dose.trained == (key not in ("citric", "vinegar"))


@pytest.mark.parametrize(
    ("given_", "says"),
    [
        ((600, 7.8, 6.0, "citric"), "blend with rain"),
        ((200, 6.0, 6.5, "citric"), "already"),
        ((200, 7.8, 6.0, "bleach"), "not in our list of acids"),
        ((200, 11, 6, "citric"), "outside"),
    ],
)
def test_acid_refuses_with_a_way_out(given_, says):
    with pytest.raises(RuleError, match=says):
        acidify(*given_, TABLES)


@given(st.lists(st.floats(0, 90), min_size=3, max_size=15), st.floats(0.2, 2), st.booleans())
def test_trays_lose_nothing_between_passes_and_the_best_bout_is_among_them(caught, spacing, mirrored):
    assume(max(caught) > 1)
    found = tray_test(caught, spacing, TABLES, there_and_back=mirrored)
    assert found.best in found.bouts
    for bout in found.bouts:
        assert min(bout.pattern) >= 0
    if found.best.word == "even":
        assert all(bout.word != "even" for bout in found.bouts if bout.width_m > found.best.width_m)


def test_an_even_throw_is_even_at_its_own_width_and_doubled_at_half():
    found = tray_test([10.0] * 8, 0.5, TABLES)
    by_width = {bout.width_m: bout for bout in found.bouts}
    assert by_width[4.0].cv_pct == pytest.approx(0, abs=1e-6)
    assert sum(by_width[2.0].pattern) == pytest.approx(2 * 10 * 4)
    with pytest.raises(RuleError, match="three trays"):
        tray_test([1, 2], 0.5, TABLES)
    with pytest.raises(RuleError, match="catch"):
        tray_test([1, -2, 3], 0.5, TABLES)


@pytest.mark.parametrize(
    ("rate", "kept", "setting", "how"),
    [(50, [(4, 40), (6, 60)], 5, "between"), (80, [(4, 40), (6, 60)], 8, "proportion"), (30, [(4, 40)], 3, "proportion")],
)
def test_the_setting_for_next_time(rate, kept, setting, how):
    found, said = setting_for(rate, kept)
    assert found == pytest.approx(setting)
    assert how in said
    assert setting_for(rate, []) is None


@given(st.floats(0.001, 5000), st.floats(1, 20_000), st.floats(0.2, 3), st.floats(0.1, 2), KEYS)
def test_portions_come_to_the_whole_and_rounding_is_told(total, area, rows, plants, key):
    geometry = Geometry(area_m2=area, row_spacing_m=rows, plant_spacing_m=plants, stride_m=0.75, pots=12, pot_l=10, bales=3)
    for portion in portions(total, geometry, MATERIALS[key], TABLES):
        assert portion.grams * portion.count == pytest.approx(total * 1000)
        assert abs(portion.error_pct) <= 10.001
        assert portion.rounded_g == pytest.approx(portion.grams * (1 + portion.error_pct / 100))
    ways = {portion.of for portion in portions(total, geometry, MATERIALS[key], TABLES)}
    assert ways == ({"litre of mix"} if MATERIALS[key].has_role("B") else set(counts(geometry)))


@given(st.floats(0.01, 1e6))
def test_rounding_loses_no_more_than_a_tenth(grams):
    assert abs(rounded(grams) - grams) <= 0.1001 * grams


@given(
    KEYS,
    st.floats(1, 800),
    st.sampled_from(sorted(CROPS)),
    st.floats(2, 30),
    st.sampled_from(["seed", "close", "band"]),
    st.floats(0.1, 2),
    st.booleans(),
)
def test_a_band_never_bears_more_in_dry_ground_or_nearer_the_seed(key, rate, crop, cec, place, row, dry):
    found = check_band(MATERIALS[key], rate, CROPS[crop], soil(cec), TABLES, place=place, row_spacing_m=row, dry=dry)
    wet = check_band(MATERIALS[key], rate, CROPS[crop], soil(cec), TABLES, place=place, row_spacing_m=row, dry=False)
    band = check_band(MATERIALS[key], rate, CROPS[crop], soil(cec), TABLES, place="band", row_spacing_m=row, dry=dry)
    assert found.limit_g_per_m <= wet.limit_g_per_m
    assert found.limit_g_per_m <= band.limit_g_per_m
    if found.verdict == "safe":
        assert found.found_g_per_m <= found.limit_g_per_m * 1.001
    if key in ("urea", "dap", "borax", "uan_28", "ammonium_thiosulfate") and place != "band":
        assert found.verdict == "never"


def test_bales_refuse_what_holds_no_nitrogen_and_hay_takes_half():
    with pytest.raises(RuleError, match="too little to start a bale"):
        start_bales(MATERIALS["gypsum"], 4, TABLES)
    straw, hay = start_bales(MATERIALS["urea"], 4, TABLES), start_bales(MATERIALS["urea"], 4, TABLES, hay=True)
    assert hay.given_g == pytest.approx(straw.given_g / 2)
    assert straw.product_kg == pytest.approx(4 * straw.given_g / 0.46 / 1000)


LIQUID = st.lists(
    st.sampled_from(["epsom_salt", "urea", "potassium_nitrate", "calcium_nitrate", "octaborate", "iron_eddha", "map"]),
    min_size=1,
    max_size=4,
    unique=True,
)


@given(
    LIQUID, st.floats(5, 50_000), st.floats(100, 3000), st.floats(1, 2000), st.floats(0.1, 60), st.sampled_from(["leaf", "drench", "drip"])
)
def test_fills_cover_the_ground_and_hold_all_that_is_wanted(keys, area, water, size, rate, way):
    parts = [Part(MATERIALS[key], rate) for key in keys]
    made = tank(parts, way, TABLES, area_m2=area, water_l_per_ha=water, tank_l=size)
    whole = made.full.area_m2 * (made.fills - 1) + made.last.area_m2
    assert whole == pytest.approx(area, rel=1e-6)
    assert made.full.kg[0] * (made.fills - 1) + made.last.kg[0] == pytest.approx(rate * area / 10_000, rel=1e-6)
    assert made.full.litres <= size + 1e-9
    names = [what for what, _ in made.order]
    assert names[0] == "half of the water"
    assert names[-1].startswith("the rest of the water")
    assert {MATERIALS[key].name for key in keys} <= set(names)


def test_a_tank_tells_what_falls_out_scorches_or_does_not_dissolve():
    made = tank(
        [Part(MATERIALS["calcium_nitrate"], 20), Part(MATERIALS["epsom_salt"], 30)],
        "leaf",
        TABLES,
        area_m2=1000,
        water_l_per_ha=400,
        tank_l=15,
        with_acid=True,
    )
    assert [item.reason for item in made.clashes] == ["gypsum falls out"]
    assert any("scorches" in said for said in made.faults)
    order = [what for what, _ in made.order]
    assert order.index("acid, slowly and into the water") == 1
    assert order[-2] == "wetter"
    thick = tank([Part(MATERIALS["borax"], 50)], "drench", TABLES, area_m2=10, water_l_per_ha=1000, tank_l=5)
    assert any("won't dissolve" in said for said in thick.faults)
    with pytest.raises(RuleError, match="nothing is in the tank"):
        tank([], "leaf", TABLES, area_m2=10, water_l_per_ha=400, tank_l=5)


@given(
    st.lists(st.tuples(KEYS, st.floats(0.1, 20)), min_size=2, max_size=6, unique_by=lambda row: row[0]),
    st.sampled_from(["scoop", "weight"]),
    st.floats(1, 500),
)
def test_a_blend_lies_between_its_parts_and_its_batch_fills_the_bin(rows, by, bin_l):
    made = blend([BlendPart(MATERIALS[key], parts) for key, parts in rows], by, {}, TABLES)
    assert sum(made.shares) == pytest.approx(1)
    for name in ("n", "p2o5", "k2o"):
        values = [getattr(MATERIALS[key], name) for key, _ in rows]
        assert min(values) - 1e-9 <= made.contents[name] <= max(values) + 1e-9
    assert list(made.release) == sorted(made.release)
    assert max(made.release, default=0) <= 100.001
    one = batch(made, bin_l)
    assert sum(one.kg) == pytest.approx(one.total_kg)
    assert sum(one.litres) == pytest.approx(bin_l)


def test_a_blend_tells_what_does_not_go_together_what_it_costs_and_a_plants_share():
    made = pair("blood_meal", "wood_ash", "scoop")
    assert made.keeps_months == 12
    assert pair("calcium_nitrate", "bone_meal_steamed", "weight").keeps_months == 1
    assert [item.danger for item in pair("urea", "wood_ash", "weight").clashes] == ["gas"]
    grams, spoons = per_plant(made, 1.0, "metric")
    assert grams == pytest.approx(100 / made.usable["N"])
    assert "tablespoon" in spoons or "teaspoon" in spoons
    bought = MATERIALS["npk_7_7_7"]
    assert beside_bought(made, bought, bought.list_price_per_kg) > 0
    with pytest.raises(RuleError, match="two parts"):
        blend([BlendPart(MATERIALS["urea"], 1)], "weight", {}, TABLES)
    with pytest.raises(RuleError, match="no nitrogen"):
        per_plant(pair("gypsum", "epsom_salt", "weight"), 1.0, "metric")


@given(
    st.sampled_from(sorted(TABLES.nitrogen.manures)),
    st.floats(0, 300),
    st.floats(0, 120),
    st.floats(0, 300),
    st.floats(20, 250),
    st.sampled_from(sorted(TABLES.nitrogen.worked_in)),
)
def test_the_smallest_limit_sets_the_rate_of_manure(key, nitrogen, p2o5, k2o, cap, worked_in):
    found = manure_rate(key, TABLES, n_need=nitrogen, p2o5_need=p2o5, k2o_need=k2o, n_cap=cap, worked_in=worked_in)
    assert found.t_per_ha == min(limit.t_per_ha for limit in found.limits)
    assert found.nitrogen[0] <= nitrogen + 1e-6
    assert found.over_p2o5 <= 1e-6
    assert found.left_n == pytest.approx(nitrogen - found.nitrogen[0])
    row = TABLES.nitrogen.manures[key]
    assert found.t_per_ha * (row.ammonium_kg_per_t + row.organic_kg_per_t) <= cap + 1e-6


def test_raw_manure_waits_and_may_carry_weed_killer():
    horse = " ".join(manure_rate("horse_manure", TABLES, n_need=100).says)
    assert "120 days" in horse
    assert "sow beans" in horse
    assert "no wait" in " ".join(manure_rate("worm_castings", TABLES, n_need=100).says)
    assert "kills" in " ".join(manure_rate("pig_slurry", TABLES, n_need=100).says)
    with pytest.raises(RuleError, match="not in our list of manures"):
        manure_rate("dragon_dung", TABLES, n_need=10)


def test_every_class_of_release_names_materials_that_there_are():
    assert {material.release_class for material in MATERIALS.values()} == {None, *TABLES.organics.release}
    shares = [released_by(MATERIALS["soybean_meal"], weeks, 16, TABLES) for weeks in range(0, 40, 4)]
    assert shares == sorted(shares)
    assert released_by(MATERIALS["soybean_meal"], 8, 4, TABLES) == 0


@pytest.mark.parametrize("element", ELEMENTS)
@pytest.mark.parametrize("ph", [5.0, 6.2, 7.0, 7.8])
def test_trace_elements_come_in_a_form_that_holds_at_this_ph(element, ph):
    for dose in micronutrient_ways(element, ph, 100, MATERIALS, TABLES):
        assert dose.way == "leaf" or holds_at(MATERIALS[dose.material], ph, TABLES)
        assert dose.strength_pct is not None or 0 < dose.product_low <= dose.product_high
        assert dose.plot_kg == pytest.approx(dose.product_low / 100)
    iron = {dose.material for dose in micronutrient_ways("Fe", ph, 100, MATERIALS, TABLES) if dose.way == "band"}
    assert iron == {"iron_edta" if ph <= 6.3 else "iron_dtpa" if ph <= 7.3 else "iron_eddha"}
    with pytest.raises(RuleError, match="outside what is safe"):
        boron_solution(4, 100, MATERIALS["borax"], TABLES)


def test_short_traces_are_read_from_the_test():
    found = assess(
        read_request(
            document(reading("pH", 7.6), reading("Zn", 0.2, "mg/kg", "DTPA"), reading("Mn", 40, "mg/kg", "DTPA"), crop="maize"), TABLES
        ),
        TABLES,
    )
    assert short_by_test(found, TABLES) == ["Zn"]


@pytest.mark.parametrize(("crop", "most"), [("beans", 0.8), ("spring_barley", 0.8), ("sugar_beet", 2.5)])
def test_no_way_of_giving_boron_goes_above_what_the_crop_bears(crop, most):
    found = assess(read_request(document(reading("pH", 6.8), reading("B", 0.1, "mg/kg", "hot water"), crop=crop), TABLES), TABLES)
    ways = ways_here("B", found, TABLES)
    assert max(way.element_high for way in ways) <= most
    assert all(0 < way.product_low <= way.product_high for way in ways)


@pytest.mark.parametrize("scheme", sorted(schemes(TABLES)))
def test_finer_lime_never_reacts_less(scheme):
    coarse = dict.fromkeys((4, 8, 10, 20, 30, 50, 60, 100), 0.3)
    assert 0 < reacting_share(scheme, coarse, TABLES) < reacting_share(scheme, dict.fromkeys(coarse, 1.0), TABLES) == pytest.approx(1.0)
    with pytest.raises(RuleError, match="is missing"):
        reacting_share(scheme, {100: 0.2}, TABLES)
    with pytest.raises(RuleError, match="than the coarser"):
        reacting_share(scheme, coarse | {100: 0.9}, TABLES)


@given(st.lists(st.tuples(KEYS, st.integers(-60, 60), st.floats(1, 150)), max_size=4), st.floats(20, 300), st.floats(0, 80))
def test_what_is_given_never_falls_and_never_passes_what_was_put_on(rows, uptake, ground):
    planting = date(2027, 5, 1)
    dressings = [NitrogenDressing(planting + timedelta(days=days), MATERIALS[key], nitrogen) for key, days, nitrogen in rows]
    climate = climate_of("thornmere_vale", TABLES)
    found = balance(dressings, uptake, ground, planting, TABLES, climate=climate)
    assert found.weeks[-1].taken == pytest.approx(uptake)
    assert all(week.given <= sum(item.nitrogen for item in dressings) + ground + 1e-6 for week in found.weeks)
    assert [week.taken for week in found.weeks] == sorted(week.taken for week in found.weeks)
    assert not set(found.sags) & set(found.spills)
    more = balance(
        [*dressings, NitrogenDressing(planting, MATERIALS["urea"], uptake + 1)], uptake, ground, planting, TABLES, climate=climate
    )
    assert not more.sags


def test_compost_alone_sags_in_the_cold_and_a_heap_of_salts_spills():
    planting = date(2027, 5, 1)
    cold = climate_of("larch_heights", TABLES)
    assert balance([NitrogenDressing(planting, MATERIALS["manure_compost"], 150)], 150, 0, planting, TABLES, climate=cold).sags
    assert balance([NitrogenDressing(planting, MATERIALS["urea"], 400)], 150, 0, planting, TABLES, climate=cold).spills
