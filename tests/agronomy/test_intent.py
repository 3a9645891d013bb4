"""What is meant for a plot beside what it needs."""

from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from agronomy.ledger.intent import Intended, cut_to_need, overlaps, per_hectare
from tests.helpers.requests import TABLES

DAY = date(2027, 3, 1)
AREA = 10_000.0


def meant(material: str, kg: float, origin: str = "the plan") -> Intended:
    return Intended(material, kg, DAY, DAY, origin)


def found(new, before, needs, caps=None):
    return overlaps(new, before, needs, caps or {}, area_m2=AREA, tables=TABLES)


def test_a_plan_beside_a_programme_is_seen_and_said_in_the_readers_units():
    plan, cuts = [meant("urea", 85.0)], [meant("calcium_ammonium_nitrate", 490.0, "the grass programme")]
    (over,) = found(cuts, plan, {"N": 39.0})
    assert (over.what, over.why, over.origins) == ("N", "need", ("the plan",))
    assert over.says("metric", AREA) == (
        "This and what is on the list already (the plan) bring 171 kg/ha of nitrogen; the need is 39 kg/ha."
    )
    assert "units/acre" in over.says("uk", AREA)
    assert found([], plan, {"N": 39.0}) == []


def test_caps_come_before_needs_and_lime_pulls_against_sulfur():
    (over,) = found([meant("urea", 400.0)], [], {"N": 200.0}, {"N": 150.0})
    assert (over.why, over.limit) == ("cap", 150.0)
    sulfur, lime = meant("elemental_sulfur_90_granular", 500.0), meant("calcitic_limestone_ground", 3000.0)
    if sulfur.material not in TABLES.materials:
        sulfur = meant(next(key for key, item in TABLES.materials.items() if item.has_role("acidifier") and item.s > 80), 500.0)
    against = found([lime], [sulfur], {"CaCO3": 2000.0})
    assert [over.why for over in against] == ["against"]
    assert "each undoes the other" in against[0].says("metric", AREA)


@given(st.floats(1, 2000), st.floats(0, 2000), st.floats(0, 300))
def test_what_is_cut_never_passes_the_need(asked, before, need):
    new, others = [meant("urea", asked / 2), meant("urea", asked / 2)], [meant("urea", before)]
    over = found(new, others, {"N": need})
    cut = cut_to_need(new, over, TABLES)
    if over:
        together = per_hectare([meant("urea", kg) for kg in (*cut, before)], AREA, TABLES).get("N", 0.0)
        alone = per_hectare(others, AREA, TABLES).get("N", 0.0)
        assert together <= max(need, alone) * (1 + 1e-9)
    else:
        assert cut == [asked / 2, asked / 2]
