"""Which method of liming is chosen, and what stands beside it."""

import pytest

from tests.helpers.requests import document, need, plan, reading


@pytest.mark.parametrize(
    ("readings", "method", "beside"),
    [
        ([("buffer pH", 6.5, "", "SMP")], "SMP", {"pH, texture and organic matter", "soil-type factor"}),
        ([("buffer pH", 6.3, "", "Mehlich buffer")], "Mehlich buffer", {"pH, texture and organic matter", "soil-type factor"}),
        ([("buffer pH", 7.8, "", "Adams-Evans")], "Adams-Evans", {"pH, texture and organic matter", "soil-type factor"}),
        ([("Al", 1.5, "cmol/kg", "KCl 1 M")], "exchangeable aluminium", {"pH, texture and organic matter", "soil-type factor"}),
        (
            [("buffer pH", 6.5, "", "SMP"), ("Al", 1.5, "cmol/kg", "KCl 1 M")],
            "SMP",
            {"exchangeable aluminium", "pH, texture and organic matter", "soil-type factor"},
        ),
        ([("Al", 0.1, "cmol/kg", "KCl 1 M")], "pH, texture and organic matter", {"soil-type factor"}),
        ([], "pH, texture and organic matter", {"soil-type factor"}),
    ],
)
def test_the_best_method_is_taken_and_the_others_stand_beside_it(readings, method, beside):
    made = plan(
        document(
            reading("pH", 5.2),
            *(reading(analyte, value, unit, used) for analyte, value, unit, used in readings),
            crop="maize",
            texture="loam",
        )
    )
    lime = need(made, "CaCO3")
    assert lime.method == method
    assert {other.method for other in lime.others} == beside
    assert lime.low_kg_per_ha < lime.rate_kg_per_ha < lime.high_kg_per_ha


def test_the_laboratorys_own_figure_stands_beside_ours():
    lime = need(plan(document(reading("pH", 5.2), reading("lab lime", 2, "t/ha"), crop="maize", texture="loam")), "CaCO3")
    assert (lime.others[0].method, lime.others[0].rate_kg_per_ha) == ("the laboratory’s own figure", 2000)


@pytest.mark.parametrize(
    ("buffer", "method", "why"),
    [
        (7.9, "Mehlich buffer", "shows no acidity"),
        (6.2, "Adams-Evans", "outside 7.0 to 8.0"),
        (4.3, "Mehlich buffer", "outside 4.6 to 6.6"),
    ],
)
def test_a_buffer_outside_its_range_is_left_with_its_reason(buffer, method, why):
    lime = need(plan(document(reading("pH", 5.4), reading("buffer pH", buffer, "", method), crop="maize", texture="loam")), "CaCO3")
    assert why in lime.why
