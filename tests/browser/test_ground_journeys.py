"""Journeys over the ground and its samples: drawing with the mouse and with the keyboard alone, labels, cores at the plot."""

import re

import pytest
from playwright.sync_api import expect

from tests.helpers.pressing import press
from web.ground.models import Plot
from web.sampling.models import Sample

pytestmark = pytest.mark.browser


def at(page, east: float, north: float) -> tuple[float, float]:
    """Where a place of the grid lies on the screen, in the board's present window."""
    return tuple(
        page.evaluate(
            """([east, north]) => {
                const map = document.querySelector("[data-board]"), f = map.dataset;
                const point = new DOMPoint((east - f.west) * f.perMetre, (f.north - north) * f.perMetre)
                    .matrixTransform(map.getScreenCTM());
                return [point.x, point.y];
            }""",
            [east, north],
        )
    )


def drag(page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*at(page, *start))
    page.mouse.down()
    page.mouse.move(*at(page, *end), steps=6)
    page.mouse.up()


def test_a_bed_by_mouse_and_a_field_with_two_zones_by_keyboard(signed_in, live_server):
    page = signed_in
    page.goto(live_server.url + "/ground/board/?at=20,14&across=40")
    page.get_by_label("Name", exact=True).fill("Herb bed")
    drag(page, (5, 5), (9, 6.5))
    expect(page.get_by_text("6 m²", exact=True)).to_be_visible()
    page.get_by_role("button", name="Keep this shape").click()
    expect(page.get_by_text("Herb bed was drawn on the map", exact=True)).to_be_visible()
    herbs = Plot.objects.get(name="Herb bed")
    assert (herbs.area_m2, herbs.shape["length"], herbs.shape["width"]) == (6.0, 4.0, 1.5)

    page.get_by_label("Plot", exact=True).select_option(label="a new one")
    page.get_by_label("Name", exact=True).fill("Home field")
    page.get_by_label("Kind of ground").select_option("field")
    page.get_by_label("Corners", exact=True).check()
    page.get_by_label("Snap to").select_option("1")
    board = page.get_by_role("application")
    board.focus()

    def go(right: int, up: int) -> None:
        for key, count in (("ArrowRight" if right > 0 else "ArrowLeft", abs(right)), ("ArrowUp" if up > 0 else "ArrowDown", abs(up))):
            for _ in range(count):
                page.keyboard.press(key)

    go(-8, 3)  # from the middle of the window
    corners = [(0, 0), (16, 0), (0, 6), (-16, 0)]
    for right, up in corners:
        go(right, up)
        page.keyboard.press("Enter")
    page.keyboard.press("Enter")  # the same place again closes the shape
    expect(page.get_by_text("96 m²", exact=True)).to_be_visible()
    page.get_by_role("button", name="Keep this shape").click()
    expect(page.get_by_text("Home field was drawn on the map", exact=True)).to_be_visible()
    field = Plot.objects.get(name="Home field")
    assert field.area_m2 == 96

    page.get_by_label("Cut", exact=True).check()
    middle = (field.west + field.east) / 2
    page.mouse.click(*at(page, middle, field.south - 0.5))
    page.mouse.dblclick(*at(page, middle, field.north + 0.5))
    page.get_by_role("button", name="Cut along this line").click()
    expect(page.get_by_text("Home field was cut", exact=True)).to_be_visible()
    assert [zone.area_m2 for zone in field.zones.all()] == [48, 48]
    page.get_by_role("button", name="Undo: Home field was cut").click()
    expect(page.get_by_text("Undone: Home field was cut", exact=True)).to_be_visible()
    assert not field.zones.exists()


def test_a_shape_is_moved_and_reshaped_and_the_map_zooms_without_losing_it(signed_in, live_server, house):
    border = house.plots.get(name="Long Border 7")
    border.shape = {"type": "rectangle", "x": 4.0, "y": 4.0, "length": 6.0, "width": 3.0, "turn": 0}
    border.west, border.south, border.east, border.north = 4, 4, 10, 7
    border.save()
    page = signed_in
    page.goto(f"{live_server.url}/ground/board/?plot={border.pk}&at=10,8&across=24")
    drag(page, (7, 5.5), (9, 7.5))
    expect(page.get_by_label("East, m")).to_have_value("6")
    page.get_by_role("link", name="Zoom in").click()
    expect(page.locator("[data-board]")).to_have_attribute("data-per-metre", re.compile(r"^75\."))
    expect(page.get_by_label("East, m")).to_have_value("6")
    drag(page, (12, 9), (13, 10))
    page.get_by_role("button", name="Keep this shape").click()
    expect(page.get_by_text("Long Border 7 was drawn on the map", exact=True)).to_be_visible()
    border.refresh_from_db()
    assert (border.shape["x"], border.shape["length"], border.shape["width"], border.area_m2) == (6.0, 7.0, 4.0, 28.0)


def test_a_round_is_planned_its_labels_printed_and_its_cores_marked_on_a_phone(signed_in, live_server):
    page = signed_in
    page.keyboard.press("g")
    page.keyboard.press("s")
    page.get_by_role("link", name="Plan a round").click()
    page.get_by_label("Long Border 7").check()
    page.get_by_label("Quiet bed").check()
    press(page, "Make the bags")
    page.get_by_role("link", name="Labels").click()
    page.get_by_label("Sheet", exact=True).select_option("a4_24")
    page.get_by_role("button", name="Show", exact=True).click()
    sheet = page.get_by_role("img", name="Label sheet 1 with 2 labels")
    expect(sheet).to_be_visible()
    pdf = page.pdf(format="A4", prefer_css_page_size=True)
    assert len(re.findall(rb"/Type\s*/Page\b", pdf)) == 1
    bag = Sample.objects.get(plot__name="Long Border 7")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{live_server.url}/samples/at/{bag.code}/")
    for number in range(1, bag.cores_wanted + 1):
        page.get_by_role("button", name=f"Core {number}", exact=True).click()
        expect(page.get_by_role("button", name=f"Core {number}", exact=True)).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_text("All in the bucket.")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    bag.refresh_from_db()
    assert bag.taken_on is not None
