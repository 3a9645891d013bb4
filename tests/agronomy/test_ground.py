"""Ground, samples, instruments: cases worked by hand, and what must hold of any shape."""

from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely.geometry import Point

from agronomy.base.errors import RuleError
from agronomy.ground.boundaries import read_boundaries, to_degrees, to_geojson, to_local, to_shapefile
from agronomy.ground.feel import feel, free_lime_from_fizz
from agronomy.ground.kinds import treated
from agronomy.ground.shapes import measure, merge, polygon_of, split
from agronomy.ground.succession import Stand, new_ground_steps, poor_followers
from agronomy.instruments.calibration import calibrate
from agronomy.instruments.kits import kit_from_document, shipped_kits
from agronomy.instruments.leaf_card import card, judge_leaves
from agronomy.instruments.sensors import judge_probe
from agronomy.instruments.steady import Sample, average, judge
from agronomy.interpret.plausibility import doubt_since_last_time, doubts_between
from agronomy.interpret.water import judge_water
from agronomy.model.reading import read
from agronomy.products.labels import worth
from agronomy.sampling.codes import MOST, code, code_in
from agronomy.sampling.compare import compare
from agronomy.sampling.path import walk
from agronomy.sampling.plan import cores_wanted, retest_due, same_season, slices, state_of, wait_until
from tests.helpers.cases import cases
from tests.helpers.requests import TABLES


def _read(analyte, typed, unit="", method="not stated", how="lab", taken=None):
    return read(analyte, typed, unit=unit, method=method, how=how, taken=taken, tables=TABLES)


def _water(analyte, typed, unit):
    found = _read(analyte, typed, unit)
    return {"value": found.value, "word": judge_water({analyte: found}, TABLES)[0].word}


def _label(lines):
    made = worth({row[0]: _read(*row) for row in lines}, TABLES)
    return made.pct | {"effective": made.effective_nv_pct}


def _kit(kit, test, colours):
    typed, said = shipped_kits(TABLES)[kit].test(test).answer(*colours)
    return {"typed": typed, "said": said}


def _fields(of) -> dict:
    return {name: getattr(of, name) for name in type(of).__slots__}


RULES = {
    "treated": lambda kind, sizes, **more: _fields(treated(kind, sizes, tables=TABLES, **more)),
    "feel": lambda answers: _fields(feel(answers, TABLES)),
    "fizz": lambda key: dict(zip(("has_lime", "low", "high"), free_lime_from_fizz(key, TABLES), strict=True)),
    "cores": lambda **given: _fields(cores_wanted(**given, tables=TABLES)),
    "calibration": lambda **given: _fields(calibrate(**given, tables=TABLES)),
    "water": _water,
    "leaves": lambda leaves, **given: _fields(judge_leaves(leaves, card(given["card"], TABLES))),
    "label": _label,
    "kit": _kit,
}


@pytest.mark.parametrize("case", cases("ground"))
def test_ground(case):
    found = RULES[case["what"]](**case["given"])
    for name, wanted in case["expect"].items():
        assert found[name] == (pytest.approx(wanted, rel=0.002) if isinstance(wanted, float) else wanted), name


rectangles = st.builds(
    lambda x, y, length, width, turn: {"type": "rectangle", "x": x, "y": y, "length": length, "width": width, "turn": turn},
    st.floats(-500, 500),
    st.floats(-500, 500),
    st.floats(1, 400),
    st.floats(1, 200),
    st.floats(0, 180),
)


@given(shape=rectangles, share=st.floats(0.1, 0.9))
def test_cutting_and_merging_keep_the_area(shape, share):
    outline = measure(shape).outline
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = outline
    line = [[ax + (bx - ax) * share, ay + (by - ay) * share], [dx + (cx - dx) * share, dy + (cy - dy) * share]]
    parts = split(shape, line)
    whole = measure(shape).area_m2
    assert sum(measure(part).area_m2 for part in parts) == pytest.approx(whole, rel=1e-3, abs=0.02)
    assert measure(merge(parts)).area_m2 == pytest.approx(whole, rel=5e-3, abs=0.2)


@given(shape=rectangles, cores=st.integers(4, 25), spot=st.tuples(st.floats(0.1, 0.9), st.floats(0.5, 4)))
def test_a_walk_keeps_inside_and_off_the_odd_spots(shape, cores, spot):
    assume(shape["length"] * shape["width"] > 60)
    ground = polygon_of(shape)
    x, y = measure(shape).centre
    radius = min(spot[1], shape["width"] / 8, shape["length"] / 8)
    found = walk(shape, cores, edge_m=0.5, odd_spots=[(x, y, radius)])
    assert len(found.cores) == cores
    assert all(ground.buffer(0.02).contains(Point(place)) for place in found.cores)
    assert all(Point(place).distance(Point(x, y)) >= radius - 0.02 for place in found.cores)


@given(lon=st.floats(-170, 170), lat=st.floats(-65, 65), x=st.floats(-4000, 4000), y=st.floats(-4000, 4000))
def test_degrees_and_metres_go_back_and_forth(lon, lat, x, y):
    there = to_degrees(x, y, (lon, lat))
    assert to_local(*there, (lon, lat)) == pytest.approx((x, y), abs=0.01)


@pytest.mark.parametrize("origin", [None, (12.5, 54.1)])
def test_boundaries_come_back_from_both_kinds_of_file(origin):
    import json

    shape = {"type": "polygon", "points": [[0, 0], [200, 0], [200, 100], [0, 90]]}
    plots = [("Hofäcker", shape, {"kind": "field", "area_m2": 19000.0})]
    for content, name in ((json.dumps(to_geojson(plots, origin)).encode(), "a.geojson"), (to_shapefile(plots, origin), "a.zip")):
        found = read_boundaries(content, name, origin)
        assert [item.name for item in found.boundaries] == ["Hofäcker"]
        assert found.boundaries[0].area_m2 == pytest.approx(19000, rel=1e-3)


@pytest.mark.parametrize(
    "content",
    [b"", b"{}", b"[1,2]", b"PK\x03\x04", b'{"type":"FeatureCollection","features":[{"geometry":{"type":"Point","coordinates":[0,0]}}]}'],
)
def test_what_is_no_boundary_file_is_refused(content):
    with pytest.raises(RuleError):
        read_boundaries(content, "x")


@pytest.mark.parametrize(
    "shape",
    [
        {"type": "blob"},
        {"type": "circle", "x": 0, "y": 0, "radius": float("nan")},
        {"type": "polygon", "points": [[0, 0], [10, 10], [10, 0], [0, 10]]},
        {"type": "polygon", "points": [[0, 0], [1, 0]]},
        {"type": "rectangle", "x": 1e9, "y": 0, "width": 2, "length": 2},
        {"type": "rows", "x": 0, "y": 0, "length": 10, "count": 3, "spacing": True},
        "nothing",
    ],
)
def test_shapes_that_cannot_be_are_refused(shape):
    with pytest.raises(RuleError):
        measure(shape)


def test_poor_followers_and_new_ground():
    stands = [
        Stand("tulip", date(2024, 11, 1), date(2025, 6, 1)),
        Stand("squash", date(2025, 6, 10), date(2025, 10, 1)),
        Stand("tulip", date(2026, 11, 1), None),
    ]
    warned = poor_followers(stands, TABLES)
    assert [(warning.crop, warning.after, warning.wanted_years) for warning in warned] == [("tulip", "tulip", 3)]
    assert not poor_followers([Stand("asparagus", date(2020, 4, 1), None), Stand("asparagus", date(2026, 4, 1), None)], TABLES)
    steps = new_ground_steps(date(2026, 3, 1), TABLES)
    assert steps[0].caution.startswith("Buried lines kill")
    assert [step.on for step in steps] == sorted(step.on for step in steps)


@given(st.integers(0, MOST - 1), st.integers(0, 3))
def test_sample_ids_survive_a_laboratory_and_no_wrong_letter_passes(number, place):
    made = code(number)
    assert code_in(f"TM-{made.lower()} / bed 7") == made
    for letter in "3467ACDEFGHJKMNPRTWXY".replace(made[place], ""):
        assert code_in(made[:place] + letter + made[place + 1 :]) is None


def test_when_to_sample_and_how_deep():
    assert [
        (layer.top_cm, layer.bottom_cm) for layer in slices("bed", dug=False, depth_cm=20, is_grass=False, nitrate=True, tables=TABLES)
    ] == [
        (0, 5),
        (0, 20),
        (0, 30),
        (30, 60),
    ]
    window = same_season(date(2025, 10, 3), date(2026, 12, 1), TABLES)
    assert window.start <= date(2027, 10, 3) <= window.end
    assert wait_until(date(2026, 4, 1), TABLES) == date(2026, 5, 27)
    assert retest_due(date(2026, 10, 3), None, is_light=False, kind="bed", ph_changed=True, tables=TABLES) == date(2027, 10, 3)
    days = {"taken": date(2026, 10, 1), "sent": date(2026, 10, 2), "arrived": None, "tables": TABLES}
    assert [state_of(today=day, **days) for day in (date(2026, 10, 10), date(2026, 11, 10))] == ["sent", "overdue"]


def test_a_difference_counts_above_its_errors_only_and_methods_are_not_mixed():
    good = {
        "pH": _read("pH", "6.5", method="water 1:1"),
        "P": _read("P", "40", "mg/kg", "Olsen"),
        "K": _read("K", "200", "mg/kg", "Mehlich 3"),
    }
    bad = {
        "pH": _read("pH", "5.2", method="water 1:1"),
        "P": _read("P", "44", "mg/kg", "Olsen"),
        "K": _read("K", "90", "mg/kg", "ammonium acetate"),
    }
    lines = {line.analyte: line for line in compare(good, bad, TABLES)}
    assert lines["pH"].means_something
    assert not lines["P"].means_something
    assert lines["K"].difference is None


def test_a_meter_is_read_when_it_holds_still():
    def samples(values):
        return [Sample(place / 2, value, 20.0) for place, value in enumerate(values)]

    settling = [6.0 + 2.0 * 0.93**place for place in range(30)]
    assert judge([], TABLES).state == "settling"
    assert judge(samples(settling), TABLES).state == "settling"
    assert judge(samples(settling + [6.1] * 40), TABLES).state == "steady"
    assert judge(samples([6 + (place % 2) * 0.4 for place in range(60)]), TABLES).state == "noisy"
    assert average([6.0, 7.2]).remark


def test_probes_that_are_not_to_be_believed():
    now = datetime(2026, 10, 3, 12, tzinfo=UTC)
    hourly = [(now - timedelta(hours=30 - hour), 20 + hour % 5) for hour in range(31)]

    def state(readings, refused_at=None):
        return judge_probe(readings, quantity="moisture", every_minutes=60, refused_at=refused_at, now=now, tables=TABLES).state

    assert state(hourly) == "ok"
    assert state(hourly[:20]) == "stale"
    assert state([(at, 27.0) for at, _ in hourly]) == "faulty"
    assert state([]) == "silent"
    assert state([], now) == "faulty"


@pytest.mark.parametrize(
    ("typed", "unit", "expected"),
    [("236", "mg/kg", "lb/acre"), ("270", "mg/kg", "mg/kg P2O5"), ("11.8", "mg/kg", "mg/100 g"), ("900", "mg/kg", None)],
)
def test_a_jump_that_is_just_a_unit_is_offered(typed, unit, expected):
    last = _read("P", "118", "mg/kg", "Mehlich 3", taken=date(2025, 10, 3))
    new = _read("P", typed, unit, "Mehlich 3")
    doubt = doubt_since_last_time(new, last, typed=typed, unit=unit, explained=False, tables=TABLES)
    assert doubt.unit == expected
    assert doubt_since_last_time(new, last, typed=typed, unit=unit, explained=True, tables=TABLES) is None


def test_cations_that_overfill_their_capacity_are_doubted():
    readings = {
        "CEC": _read("CEC", "8", "cmol/kg"),
        "Ca": _read("Ca", "4000", "mg/kg"),
        "Mg": _read("Mg", "200", "mg/kg"),
        "pH": _read("pH", "6.2", method="water 1:1"),
    }
    assert "exchange capacity" in doubts_between(readings, TABLES)["Ca"].text


@pytest.mark.parametrize(
    "change",
    [
        {"key": "No Good"},
        {"name": ""},
        {"test": []},
        {"test": [{"key": "a", "name": "A", "analyte": "gold"}]},
        {
            "test": [
                {
                    "key": "a",
                    "name": "A",
                    "analyte": "pH",
                    "steps": [{"do": "x", "wait_seconds": -1}],
                    "colours": [{"fill": "#aabbcc", "low": 5, "say": "5"}] * 2,
                }
            ]
        },
        {
            "test": [
                {"key": "a", "name": "A", "analyte": "pH", "steps": [{"do": "x"}], "colours": [{"fill": "red", "low": 5, "say": "5"}] * 2}
            ]
        },
        {
            "test": [
                {
                    "key": "a",
                    "name": "A",
                    "analyte": "pH",
                    "steps": [{"do": "x"}],
                    "colours": [{"fill": "#aabbcc", "low": 50, "say": "5"}] * 2,
                }
            ]
        },
    ],
)
def test_kits_that_make_no_sense_are_refused(change):
    with pytest.raises(RuleError):
        kit_from_document({"key": "own", "name": "Own", **change}, TABLES)


def test_labels_that_add_to_more_than_the_whole_are_refused():
    with pytest.raises(RuleError, match="add to"):
        worth({"label N": _read("label N", "46", "%"), "label K2O": _read("label K2O", "60", "%")}, TABLES)
    with pytest.raises(RuleError, match="dry matter is missing"):
        worth({"label N": _read("label N", "2", "%", "in the dry matter")}, TABLES)
