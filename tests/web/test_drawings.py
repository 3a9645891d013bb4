"""Drawings as pure shapes: what must hold of any window, sheet of labels, chart and walk."""

import re
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.tables import load_tables
from web.drawing.frame import around, frame_on
from web.drawing.ground_map import PlotOnMap, ground_map
from web.drawing.history import DressingMark, Point, history
from web.drawing.labels import LabelText, label_pages, qr_path
from web.drawing.rake import SmallRake, SmallTooth
from web.drawing.trace import trace
from web.drawing.triangle import place, triangle
from web.drawing.walk import walk_drawing

TABLES = load_tables()
boxes = st.tuples(st.floats(-5000, 5000), st.floats(-5000, 5000), st.floats(0.5, 4000), st.floats(0.5, 4000)).map(
    lambda box: (box[0], box[1], box[0] + box[2], box[1] + box[3])
)


@given(box=boxes, unit=st.sampled_from([1.0, 0.3048]))
def test_a_window_shows_its_box_whole_with_grid_lines_neither_crowded_nor_missing(box, unit):
    frame = frame_on(box, 820, 560, unit_m=unit)
    west, south, east, north = frame.box
    assert west <= box[0]
    assert south <= box[1]
    assert east >= box[2]
    assert north >= box[3]
    assert frame.x(east) == pytest.approx(820)
    assert frame.y(south) == pytest.approx(560)
    assert 2 <= len(frame.columns()) <= 14
    gaps = [float(second.position) - float(first.position) for first, second in zip(frame.columns(), frame.columns()[1:], strict=False)]
    assert all(gap == pytest.approx(frame.step * unit * frame.per_metre, abs=0.2) for gap in gaps)


def test_north_is_up_and_zooming_keeps_the_middle():
    near, far = around((10, 20), 40, 800, 600), around((10, 20), 80, 800, 600)
    assert near.y(25) < near.y(15)
    assert (near.x(10), near.y(20)) == (far.x(10), far.y(20)) == (400, 300)


def test_the_map_marks_states_lays_small_plots_on_top_and_names_only_what_fits():
    rake = SmallRake("47", (SmallTooth("4", "20", "short"),))
    field = PlotOnMap(
        1, "Barley field", "field", {"type": "rectangle", "x": 0, "y": 0, "length": 100, "width": 60}, "parted", "in zones", "#"
    )
    zone = PlotOnMap(
        2, "North zone", "zone", {"type": "rectangle", "x": 0, "y": 30, "length": 100, "width": 30}, "asks", "asks for lime", "#", rake
    )
    dot = PlotOnMap(
        3, "A very long name for a dot", "tree", {"type": "circle", "x": 50, "y": 10, "radius": 1.0}, "old", "test again", "#", rake
    )
    drawn = ground_map(frame_on((0, 0, 100, 60), 820, 560), [dot, zone, field])
    assert [mark.pk for mark in drawn.marks] == [1, 2, 3]
    assert [mark.state for mark in drawn.marks] == ["parted", "asks", "old"]
    assert drawn.marks[1].rake is rake
    assert (drawn.marks[2].rake, drawn.marks[2].label) == (None, "")


@pytest.mark.parametrize("key", list(TABLES.sampling.label_sheets))
@settings(max_examples=25)
@given(count=st.integers(1, 70), first=st.integers(1, 40))
def test_labels_lie_on_the_page_and_never_on_each_other(key, count, first):
    sheet = TABLES.sampling.label_sheets[key]
    pages = label_pages(
        [LabelText(f"L{number}", ("Plot", "0 to 20 cm"), "http://localhost/samples/at/3334/") for number in range(count)],
        sheet,
        first=first,
    )
    labels = [label for page in pages for label in page.labels]
    assert [label.code for label in labels] == [f"L{number}" for number in range(count)]
    for page in pages:
        boxes = [tuple(float(value) for value in (label.x, label.y, label.width, label.height)) for label in page.labels]
        for x, y, width, height in boxes:
            assert x >= 0
            assert y >= 0
            assert x + width <= sheet.page_width_mm + 0.2
            assert y + height <= sheet.page_height_mm + 0.2
        for number, (x, y, width, height) in enumerate(boxes):
            assert all(abs(x - ox) >= width - 0.2 or abs(y - oy) >= height - 0.2 for ox, oy, *_ in boxes[:number])


def test_a_code_to_scan_has_its_three_corners():
    path, modules = qr_path("http://localhost:8000/samples/at/46TK/")
    rows: dict[int, set[int]] = {}
    for x, y, length in re.findall(r"M(\d+) (\d+)h(\d+)v1", path):
        rows.setdefault(int(y), set()).update(range(int(x), int(x) + int(length)))
    top, end = 2, modules - 2
    for left in (top, end - 7):
        assert {left + column for column in range(7)} <= rows[top]
    assert {top + column for column in range(7)} <= rows[end - 1]
    assert not rows.get(0)  # the quiet border


def test_the_triangle_is_parted_into_all_classes_and_places_a_soil():
    names = {row.code: name for name, row in TABLES.textures.items()}
    drawn = triangle(names, sand=40, clay=20, chosen="loam")
    assert {area.name for area in drawn.areas} == set(names.values())
    assert [area.name for area in drawn.areas if area.is_chosen] == ["loam"]
    assert place(0, 100)[1] < place(100, 0)[1]
    assert place(0, 0)[0] > place(100, 0)[0]


def test_the_years_show_errors_methods_and_what_was_put_on():
    points = [
        Point(date(2024, 10, 1), 96, 77, 115, "Mehlich 3", True, "a", "#"),
        Point(date(2026, 10, 1), 30, 20, 40, "Olsen", False, "b", "#"),
    ]
    drawn = history(
        points,
        [DressingMark(date(2025, 3, 1), "9 kg lime"), DressingMark(date(2025, 3, 2), "60 g urea")],
        wanted=(80, 140),
        today=date(2026, 11, 1),
        unit="mg/kg",
    )
    assert [label for _, label in drawn.years] == ["2024", "2025", "2026"]
    assert len(drawn.methods) == 2
    assert [dot.is_sure for dot in drawn.dots] == [True, False]
    assert drawn.marks[0][1] != drawn.marks[1][1]  # two labels of one week lie in two rows
    assert float(drawn.band[1]) > 0
    assert history([], [], wanted=None, today=date(2026, 1, 1), unit="") is None


@given(st.lists(st.tuples(st.floats(0, 1e6), st.floats(-50, 50)), min_size=2, max_size=40))
def test_a_trace_stays_in_its_box(values):
    drawn = trace(sorted(values))
    for x, y in (pair.split(",") for pair in drawn.points.split(" ")):
        assert 0 <= float(x) <= float(drawn.width)
        assert 0 <= float(y) <= float(drawn.height)


def test_a_walk_numbers_its_cores_and_tells_how_many_are_taken():
    shape = {"type": "rectangle", "x": 0, "y": 0, "length": 20, "width": 5}
    drawn = walk_drawing(
        shape,
        {"line": [(1, 1), (10, 4), (19, 1)], "cores": [(2, 1.3), (10, 4), (18, 1.3)], "length_m": 19.0, "edge_m": 0.3},
        done=[2],
        spots=[(5, 2, 1)],
    )
    assert [(core.number, core.is_done) for core in drawn.cores] == [(1, False), (2, True), (3, False)]
    assert "3 cores, 1 of them taken" in drawn.says
