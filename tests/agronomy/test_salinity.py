"""Salt, sodium, balance and the stakes of pH: published cases and whole findings."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.interpret.salinity import exchangeable_sodium_from_sar, gypsum_t_per_ha, yield_at
from agronomy.recommend.acidity.availability import availability
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES, document, finding, plan, reading


def _paste(method, texture, ec):
    return finding(plan(document(reading("EC", ec, "dS/m", method), texture=texture)), "EC").value


RULES = {
    "yield": lambda crop, ec: yield_at(ec, TABLES.crops[crop], TABLES)[0],
    "sar": lambda sar: exchangeable_sodium_from_sar(sar),
    "gypsum": lambda cec, now, target, mass: gypsum_t_per_ha(cec, now, target, mass, TABLES),
    "paste": _paste,
}


@pytest.mark.parametrize("case", cases("salinity"))
def test_published(case):
    assert RULES[case["what"]](**case["given"]) == pytest.approx(case["expect"], rel=case["tolerance"], abs=0.001), case["whose"]


@pytest.mark.parametrize(
    ("ec", "sodium", "salt_class", "sodium_class", "says"),
    [
        (1.0, 20, "right", "right", "no harm"),
        (3.2, 20, "salty", "right", "Wash it down"),
        (6.5, 20, "too_salty", "right", "Look for its cause"),
        (1.0, 220, "right", "sodium_rising", "slake"),
        (1.0, 600, "right", "sodic", "without much salt (sodic)"),
        (6.5, 600, "too_salty", "sodic", "saline-sodic"),
    ],
)
def test_saline_and_sodic_ground_are_told_apart(ec, sodium, salt_class, sodium_class, says):
    made = plan(
        document(reading("EC", ec, "dS/m", "saturated paste"), reading("Na", sodium, "mg/kg"), reading("CEC", 12, "cmol/kg"), crop="tomato")
    )
    salt, na = finding(made, "EC"), finding(made, "Na")
    assert (salt.class_, na.class_) == (salt_class, sodium_class)
    assert says in salt.why + na.why
    assert any(item.material == "gypsum" and "leach" in item.placement for item in made.applications) is (sodium_class == "sodic")


def test_what_cannot_be_judged_says_what_to_ask_for():
    made = plan(document(reading("EC", 0.4, "dS/m"), reading("SAR", 60), crop="tomato"))
    asked = {item.analyte: item.instead for item in made.unjudged}
    assert "1:5" in asked["EC"]
    assert "exchangeable sodium" in asked["SAR"]
    assert "sensitive" in finding(plan(document(reading("EC", 3, "dS/m", "saturated paste"), crop="tea")), "EC").why


@settings(max_examples=60, deadline=None)
@given(st.floats(0, 30), st.floats(0, 10), st.sampled_from(sorted(TABLES.crops)))
def test_more_salt_never_yields_more(ec, more, crop):
    assert yield_at(ec + more, TABLES.crops[crop], TABLES)[0] <= yield_at(ec, TABLES.crops[crop], TABLES)[0]


REMARKS = [
    ((reading("K", 400, "mg/kg", "Mehlich 3"), reading("Mg", 90, "mg/kg", "Mehlich 3")), "pasture", "k_mg", "vet"),
    ((reading("Ca", 200, "mg/kg", "Mehlich 3"), reading("Mg", 120, "mg/kg", "Mehlich 3")), "carrot", "ca_mg", "without magnesium"),
    ((reading("Ca", 3000, "mg/kg", "Mehlich 3"), reading("Mg", 30, "mg/kg", "Mehlich 3")), "carrot", "ca_mg", "see to magnesium"),
    ((reading("NH4-N", 30, "mg/kg"), reading("NO3-N", 10, "mg/kg")), "tomato", "nh4_ca", "calcium"),
    ((reading("P", 300, "mg/kg", "Mehlich 3"),), "maize", "p_zn_fe", "test zinc"),
    ((reading("P", 300, "mg/kg", "Mehlich 3"), reading("Zn", 0.2, "mg/kg", "DTPA")), "maize", "p_zn_fe", "zinc harder to get"),
    ((reading("NO3-N", 40, "mg/kg"),), "dahlia", "nitrate_water", "catch crop"),
    ((reading("pH", 5.4), reading("Mn", 0.4, "mg/kg", "DTPA")), "sugar_beet", "lime_manganese", "manganese"),
]


@pytest.mark.parametrize(("readings", "crop", "key", "says"), REMARKS, ids=[row[2] + "-" + row[1] for row in REMARKS])
def test_balance_is_told_with_its_working(readings, crop, key, says):
    found = {remark.key: remark for remark in plan(document(*readings, crop=crop)).remarks}
    assert says in found[key].says
    assert found[key].working


@pytest.mark.parametrize(
    ("lies", "told"),
    [({}, False), ({"water_distance_m": 12}, True), ({"slope_pct": 9}, True), ({"water_distance_m": 80, "slope_pct": 2}, False)],
)
def test_rich_ground_near_water_or_on_a_slope_is_a_risk(lies, told):
    rich = plan(document(reading("P", 300, "mg/kg", "Mehlich 3"), **lies))
    assert ("p_water" in {remark.key for remark in rich.remarks}) is told
    assert "p_water" not in {remark.key for remark in plan(document(reading("P", 40, "mg/kg", "Mehlich 3"), **lies)).remarks}


def test_balanced_ground_has_no_remark_and_shares_need_a_measured_capacity():
    even = (
        reading("pH", 6.6),
        reading("K", 150, "mg/kg", "Mehlich 3"),
        reading("Mg", 140, "mg/kg", "Mehlich 3"),
        reading("Ca", 1500, "mg/kg", "Mehlich 3"),
    )
    assert not {remark.key for remark in plan(document(*even, crop="carrot")).remarks} & {"k_mg", "ca_mg", "p_zn_fe"}
    assert plan(document(*even)).shares == ()
    shares = {share.cation: share.pct for share in plan(document(*even, reading("CEC", 10, "cmol/kg"))).shares}
    assert shares["Ca"] == pytest.approx(1500 / 200.4 * 10)
    assert sum(shares.values()) == pytest.approx((1500 / 200.4 + 140 / 121.5 + 150 / 391) * 10)


@pytest.mark.parametrize(
    ("ph", "crop", "stake"),
    [
        (4.8, "tomato", "aluminium"),
        (5.4, "lucerne", "nodules"),
        (6.0, "cabbage", "Clubroot"),
        (7.9, "tomato", "locked up"),
        (6.4, "blueberry", "Acid lovers"),
        (6.9, "potato", "scab"),
    ],
)
def test_ph_tells_what_is_at_stake_for_this_crop(ph, crop, stake):
    assert stake in finding(plan(document(reading("pH", ph), crop=crop)), "pH").why


def test_availability_lies_between_the_rows_and_holds_beyond_the_ends():
    assert availability("P", 5.75, TABLES) == pytest.approx((availability("P", 5.5, TABLES) + availability("P", 6.0, TABLES)) / 2)
    assert availability("Mo", 3.0, TABLES) == availability("Mo", 4.0, TABLES)
    assert availability("Fe", 9.0, TABLES) == availability("Fe", 8.5, TABLES)
    assert all(0 <= availability(key, ph / 10, TABLES) <= 100 for key in TABLES.acidity.availability for ph in range(35, 95, 3))


def test_a_potting_mix_is_limed_by_the_litre():
    def pots(litres, ph=4.6):
        made = plan(
            document(
                reading("pH", ph),
                crop="bay_tree",
                kind="container",
                mix="peat_bark",
                area=None,
                sizes={"count": 6, "volume": f"{litres} L"},
                depth="35 cm",
                texture=None,
            )
        )
        return sum(item.supplies["CaCO3"] * 6 * litres * 0.9 / 350 / 10 for item in made.applications if item.what == "CaCO3"), made

    (one, made), (two, _) = pots(40), pots(80)
    assert two == pytest.approx(2 * one)
    need = next(item for item in made.needs if item.what == "CaCO3")
    assert need.rate_kg_per_ha == pytest.approx(2.0 * (TABLES.crops["bay_tree"].ph_lime_to - 4.6) * 100 * 35)
    assert "kind of mix" in need.why


def test_a_little_free_lime_is_counted_and_much_of_it_refuses():
    ground = {"crop": "camellia", "free_lime": None, "texture": "sand", "depth": "10 cm"}
    bare, little, much = (
        plan(document(reading("pH", 7.1), *extra, **ground))
        for extra in ((), (reading("carbonate", 0.05, "%"),), (reading("carbonate", 3, "%"),))
    )
    rates = [next((item.rate_kg_per_ha for item in made.needs if item.what == "S_acid"), None) for made in (bare, little, much)]
    assert rates[1] == pytest.approx(rates[0] + 0.3203 * 0.0005 * 1e5 * 1.58 * 10, rel=0.05)
    assert rates[2] is None
    assert "3 % of free lime" in next(item.why for item in much.unmet if item.what == "S_acid")


def test_acid_ground_shows_the_need_by_what_the_crop_bears_beside():
    acid = (
        reading("pH", 4.9),
        reading("Al", 2.0, "cmol/kg"),
        reading("Ca", 1.2, "cmol/kg", "ammonium acetate"),
        reading("Mg", 0.4, "cmol/kg", "ammonium acetate"),
    )
    others = {other.method for other in next(item for item in plan(document(*acid, crop="maize")).needs if item.what == "CaCO3").others}
    assert "aluminium that the crop bears" in others
