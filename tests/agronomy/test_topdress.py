"""From a leaf to a dose, or to nothing: the guides' cases, the order of the gates, and what always holds."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from agronomy.base.errors import OutOfRange, UnknownName
from agronomy.tables import load_tables
from agronomy.watch.in_source import in_source
from agronomy.watch.topdress import OTHER_CAUSES, Seen, sap_stages, topdress

TABLES = load_tables()


def see(crop: str, instrument: str, place: str = "in time", **told) -> Seen:
    looks = frozenset(told.pop("looks", ()))
    return Seen(crop=TABLES.crops[crop], instrument=instrument, place=place, looks=looks, **told)


PALE = (3, 3, 3.5, 3, 4, 3, 3, 3, 3.5, 3)
GREEN = (4, 4, 3.5, 4, 3, 4, 4, 3, 4, 4)
# What guides say: crop and reading; act, kg of N/ha, what the reason names.
CASES = [
    (see("rice", "card", leaves=PALE, rule="rice_tp_low", last_days=12, remaining_kg_per_ha=45), "dress", 25, "needs"),
    (see("rice", "card", "past", leaves=(3,) * 10, rule="rice_tp_low", remaining_kg_per_ha=45), "nothing", 0, "first flowering"),
    (see("rice", "card", leaves=GREEN, rule="rice_tp_low", remaining_kg_per_ha=45), "nothing", 0, "Fewer than 6 of 10"),
    (see("rice", "card", leaves=(3,) * 10, rule="rice_tp_high", remaining_kg_per_ha=100), "dress", 35, "needs"),
    (see("rice", "card", leaves=(3,) * 10, rule="rice_tp_high", remaining_kg_per_ha=12), "dress", 12, "season still needs"),
    (see("rice", "card", leaves=(3,) * 6, rule="rice_tp_low"), "read again", 0, "10 leaves"),
    (see("rice", "card", leaves=(2.5,) * 10, rule="rice_ds"), "dress", 30, "needs"),
    (see("rice", "meter", meter=33, rule="14 days after transplanting to first flowering, dry season"), "dress", 35, "needs"),
    (see("rice", "meter", meter=33, rule="same, wet season or direct seeded"), "nothing", 0, "high enough"),
    (see("maize", "meter", meter=46.2, strip=50.6, remaining_kg_per_ha=60), "dress", 34.8, "needs"),
    (see("maize", "meter", meter=49.4, strip=50.6, remaining_kg_per_ha=60), "nothing", 0, "0.976"),
    (see("maize", "meter", meter=38, strip=50.6, remaining_kg_per_ha=120), "dress", 70, "its cap"),
    (see("maize", "meter", meter=46.2), "read again", 0, "strip"),
    (see("maize", "card", leaves=(4,) * 10, rule="maize_card"), "dress", 30, "needs"),
    (see("winter_wheat", "meter", meter=44, strip=50), "dress", 36, "needs"),
    (see("winter_wheat", "meter", "past", meter=40, strip=50), "nothing", 0, "flag leaf"),
    (see("broccoli", "meter", meter=47, strip=50), "nothing", 0, "0.93"),
    (see("lawn", "meter", meter=45, strip=50, looks=("drought",), remaining_kg_per_ha=50), "nothing", 0, "drought"),
    (see("lawn", "meter", meter=45, strip=50, remaining_kg_per_ha=50), "dress", 20, "needs"),
    (see("tomato", "sap", value=248, rule="first harvest", remaining_kg_per_ha=20), "dress", 20, "season still needs"),
    (see("tomato", "sap", value=248, rule="first harvest", soil_nitrate_mg_per_kg=40), "nothing", 0, "roots, salt and cold"),
    (see("tomato", "sap", value=340, rule="first harvest"), "nothing", 0, "within the range"),
    (see("pepper", "sap", value=1350, rule="first harvest", due_days=6, due_kg_per_ha=20), "skip", 0, "next planned"),
    (see("pepper", "sap", value=1600, rule="first harvest"), "skip", 0, "two dressings"),
    (see("potato", "dry stalk", value=9000, rule="bulking, early", remaining_kg_per_ha=50), "dress", 30, "needs"),
    (see("onion", "eye", "past", days_to_harvest=40, remaining_kg_per_ha=30), "nothing", 0, "past"),
    (see("onion", "eye", days_to_harvest=40, remaining_kg_per_ha=30), "nothing", 0, "within 60"),
    (see("rose", "eye", looks=("net",), remaining_kg_per_ha=40), "nothing", 0, "lime locks up"),
    (see("lettuce", "eye", due_days=5, due_kg_per_ha=30, remaining_kg_per_ha=60), "bring forward", 30, "not added"),
    (see("lettuce", "eye", remaining_kg_per_ha=60), "nothing", 0, "none is planned soon"),
    (see("lettuce", "eye", looks_pale=False, due_days=5, due_kg_per_ha=30), "nothing", 0, "can be left out"),
    (see("cabbage", "eye", remaining_kg_per_ha=0), "nothing", 0, "Something else may be short"),
    (see("maize", "meter", meter=46.2, strip=50.6, last_days=4), "nothing", 0, "4 days ago"),
    (see("maize", "meter", meter=46.2, strip=50.6, still_releasing=True), "nothing", 0, "still giving"),
    (see("peas", "eye", due_days=3, due_kg_per_ha=20), "nothing", 0, "not given nitrogen"),
]


@pytest.mark.parametrize(("seen", "act", "dose", "says"), CASES, ids=lambda value: value.crop.key if isinstance(value, Seen) else None)
def test_a_reading_ends_in_a_dose_or_in_nothing_with_its_reason(seen, act, dose, says):
    told = topdress(seen, TABLES)
    assert (told.act, told.n_kg_per_ha) == (act, pytest.approx(dose, abs=0.05))
    assert says in told.reason
    assert told.read


@pytest.mark.parametrize(
    ("dose", "material", "remaining", "kg"),
    [
        (25, "urea", None, 54.3),
        (34.8, "calcium_ammonium_nitrate", 60, 128.9),
        (20, "calcium_nitrate", 20, 129.0),
        (30, "blood_meal", 60, 490.2),
        (30, "blood_meal", 40, 333.3),
        (30, "uan_32", 50, 93.75),
        (30, "urea_polymer_coated", 90, 0),
        (30, "hoof_and_horn", 90, 0),
    ],
)
def test_a_slow_source_is_counted_by_what_acts_and_never_brings_more_than_is_needed(dose, material, remaining, kg):
    told = in_source(dose, TABLES.materials[material], remaining, TABLES)
    assert told.kg_per_ha == pytest.approx(kg, rel=0.005)
    assert bool(told.says) == (kg in (333.3, 0))


def test_what_is_missing_is_asked_for_by_name():
    for seen, error, field in (
        (see("rice", "card", leaves=PALE), UnknownName, "rule"),
        (see("rice", "card", rule="rice_tp_low"), OutOfRange, "leaves"),
        (see("tomato", "sap", value=300), UnknownName, "rule"),
        (see("tomato", "sap", rule="first harvest"), OutOfRange, "value"),
        (see("maize", "meter"), OutOfRange, "meter"),
    ):
        with pytest.raises(error) as refused:
            topdress(seen, TABLES)
        assert refused.value.field == field


@given(
    crop=st.sampled_from(sorted(TABLES.topdress.windows)),
    pale=st.floats(0.5, 1.2),
    remaining=st.none() | st.floats(-20, 200),
    due=st.none() | st.floats(0, 20),
    looks=st.sets(st.sampled_from(sorted(OTHER_CAUSES)), max_size=1),
)
def test_no_dose_is_above_what_the_season_needs_or_the_crop_bears(crop, pale, remaining, due, looks):
    seen = [see(crop, "meter", meter=50 * pale, strip=50, remaining_kg_per_ha=remaining, due_days=due, due_kg_per_ha=40, looks=looks)]
    for stage in sap_stages(crop, "sap", TABLES):
        seen.append(see(crop, "sap", value=stage.low * pale, rule=stage.stage, remaining_kg_per_ha=remaining, due_days=due, looks=looks))
    for one in seen:
        told = topdress(one, TABLES)
        assert 0 <= told.low <= told.n_kg_per_ha <= told.high or told.n_kg_per_ha == 0
        assert told.n_kg_per_ha <= min(TABLES.topdress.windows[crop].cap_n_kg_per_ha, max(0, remaining) if remaining is not None else 999)
        assert not (looks and told.n_kg_per_ha)
