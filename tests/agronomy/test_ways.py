"""Ways to move pH beside each other, and where each method of reckoning a lime need holds."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.base.errors import OutOfRange
from agronomy.intake.request import read_request
from agronomy.model.answers import Need
from agronomy.model.climate import climate_of, soil_warmth, warm_season_mean
from agronomy.plan.assess import assess
from agronomy.plan.needs import answers_by
from agronomy.products.shop import available_products
from agronomy.recommend.acidity.caps import ApplicationLimit
from agronomy.recommend.acidity.method_ranges import why_not
from agronomy.whatif.ways import MONTHS, lime_ways, quick_ways, sulfur_ways, vinegar_l_per_m2
from tests.helpers.requests import ACID, TABLES, document, reading

FOUND = assess(read_request(document(*ACID), TABLES), TABLES)
ANSWERS = answers_by("sufficiency", FOUND, TABLES)
SHOP = available_products(FOUND.request, TABLES)
NEEDS = st.floats(200, 12_000)


def need(kg_per_ha: float, what: str = "CaCO3") -> Need:
    return Need(
        what=what,
        rate_kg_per_ha=kg_per_ha,
        low_kg_per_ha=0.9 * kg_per_ha,
        high_kg_per_ha=1.1 * kg_per_ha,
        method="",
        why="",
        share_now=1.0,
        others=(),
        working=(),
    )


@given(NEEDS, st.none() | st.floats(0, 30))
def test_every_lime_meets_the_same_need_and_those_in_time_come_first(kg_per_ha, months):
    found = lime_ways(need(kg_per_ha), SHOP, ANSWERS.dressing, TABLES, months_left=months)
    assert len(found) == sum(1 for item in TABLES.materials.values() if item.has_role("lime") and item.effective_neutralising_value > 0)
    for way in found:
        assert way.rate_kg_per_ha * way.material.effective_neutralising_value == pytest.approx(kg_per_ha)
        assert (
            (way.dressings - 1) * ANSWERS.dressing.max_kg_per_ha < kg_per_ha <= way.dressings * ANSWERS.dressing.max_kg_per_ha * (1 + 1e-6)
        )
        assert way.caustic == ("caustic_lime" in way.material.cautions)
    in_time = [way for way in found if way.in_time]
    assert found[: len(in_time)] == in_time
    assert [way.cost_per_ha for way in in_time] == sorted(way.cost_per_ha for way in in_time)
    if months is None:
        assert len(in_time) == len(found)


@given(st.floats(0, 30), st.floats(0, 30))
def test_more_time_never_shuts_out_a_lime(first, second):
    few, many = (
        {way.material.key for way in lime_ways(need(3000), SHOP, ANSWERS.dressing, TABLES, months_left=months) if way.in_time}
        for months in sorted((first, second))
    )
    assert few <= many
    assert any(TABLES.materials[key].speed in ("soon", "weeks") for key in few)


def sulfur_limit() -> ApplicationLimit:
    request = read_request(document(reading("pH", 7.4, method="water 1:1"), crop="camellia", free_lime=False), TABLES)
    return answers_by("sufficiency", assess(request, TABLES), TABLES).dressing


@given(NEEDS, st.floats(6, 30), st.floats(0.1, 8))
def test_sulfur_works_on_with_time_and_warmth(kg_per_ha, warmth, warmer):
    ways, warm = (sulfur_ways(need(kg_per_ha, "S_acid"), SHOP, sulfur_limit(), at, TABLES) for at in (warmth, warmth + warmer))
    for way in ways:
        assert len(way.done) == len(MONTHS)
        assert list(way.done) == sorted(way.done)
        assert all(0 <= share <= 1 for share in way.done)
        later = next(other for other in warm if other.material is way.material)
        assert all(more >= less for less, more in zip(way.done, later.done, strict=True))
        if way.done_whole:
            assert all(whole <= broken for whole, broken in zip(way.done_whole, way.done, strict=True))
    assert [way.cost_per_ha for way in ways] == sorted(way.cost_per_ha for way in ways)


@given(st.floats(20, 3000), st.floats(4.5, 8))
def test_a_quick_salt_is_told_off_when_it_would_take_too_many_dressings(kg_per_ha, ph):
    most = TABLES.acidity.quick_times_sensible.value
    for way in quick_ways(need(kg_per_ha, "S_acid"), ph, TABLES):
        row = TABLES.acidity.quick_acid[way.material.key]
        assert way.times * way.most_g_per_m2 >= way.needed_g_per_m2 * (1 - 1e-9)
        if ph <= row.not_below_ph:
            assert "never below" in way.forbidden
        else:
            assert ("no way to go" in way.forbidden) == (way.times > most)


@given(st.floats(0.1, 1.5))
def test_vinegar_goes_with_the_drop(drop):
    one, two = (vinegar_l_per_m2(times * drop, FOUND.soil, 15.0, TABLES) for times in (1, 2))
    assert two == pytest.approx(2 * one)
    with pytest.raises(OutOfRange):
        vinegar_l_per_m2(3.5, FOUND.soil, 15.0, TABLES)


@given(st.sampled_from(sorted(TABLES.climate.climates)), st.floats(-5, 40))
def test_the_warm_season_is_warmer_than_its_edge(key, above):
    climate = climate_of(key, TABLES)
    mean = warm_season_mean(climate, above, TABLES)
    hottest = max(soil_warmth(date(2027, month, day), climate, TABLES) for month in range(1, 13) for day in (1, 15))
    assert mean == above if above >= hottest + 0.5 else above <= mean <= hottest + 0.5


@pytest.mark.parametrize("row", TABLES.acidity.method_ranges, ids=lambda row: f"{row.method}, {row.what}")
def test_each_method_holds_inside_its_range_and_not_beyond(row):
    def said(value: float) -> str | None:
        return why_not(row.method, {row.what: value}, TABLES)

    low, high = row.low, row.high
    assert said((low if low is not None else high - 0.2) + 0.1) is None
    assert (said(high) is None) != bool(row.below_high)
    assert row.what in said(high + 0.05)
    if row.says:
        assert row.says in said(high + 0.05)
    if low is not None:
        assert said(low) is None
        assert f"{low:.1f} to {high:.1f}" in said(low - 0.05)
    assert why_not(row.method, {}, TABLES) is None
    assert why_not("no such method", {row.what: high + 5}, TABLES) is None
