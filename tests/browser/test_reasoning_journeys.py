"""Journeys through findings and needs: what a plot is given, a crop dragged to a plot, ground without a test, what would sharpen."""

import pytest
from playwright.sync_api import expect

from tests.browser.test_journeys import tab_to
from tests.helpers.pressing import press
from web.ground.models import Plot

pytestmark = pytest.mark.browser


def draw(house) -> Plot:
    """Long Border 7 on the map."""
    border = house.plots.get(name="Long Border 7")
    border.shape = {"type": "rectangle", "x": 0.0, "y": 0.0, "length": 15.0, "width": 6.0, "turn": 0}
    border.west, border.south, border.east, border.north = 0, 0, 15, 6
    border.save()
    return border


def test_manure_is_written_down_and_humus_left_out_by_keyboard(signed_in, live_server, house):
    page, border = signed_in, house.plots.get(name="Long Border 7")
    page.goto(f"{live_server.url}/plans/plot/{border.pk}/")
    tab_to(page, page.get_by_role("link", name="Nutrient credits"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="nutrient credits")).to_be_visible()
    tab_to(page, page.get_by_label("Which manure"))  # none is supposed
    page.keyboard.type("cattle farm")
    tab_to(page, page.get_by_label("How much, as it comes"))
    page.keyboard.type("3 kg/m2")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Cattle farmyard manure").first).to_be_visible()
    tab_to(page, page.get_by_role("button", name="counted: soil organic matter"))
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="left out: soil organic matter")).to_be_visible()
    press(page, "Undo")
    page.goto(f"{live_server.url}/plans/plot/{border.pk}/given/")
    expect(page.get_by_role("button", name="counted: soil organic matter")).to_be_visible()


@pytest.mark.parametrize("place", ["map", "table"])
def test_a_crop_dragged_to_a_plot_changes_the_findings_and_is_planned(signed_in, live_server, house, place):
    page, border = signed_in, draw(house)
    page.set_viewport_size({"width": 1280, "height": 1600})  # chips and table in one view
    page.goto(f"{live_server.url}/plans/fits/?crop=camellia&crop=dahlia&hand=dahlia")
    target = page.locator(f"svg [data-plot='{border.pk}'] .map__shape" if place == "map" else f"tr[data-plot='{border.pk}'] th")
    page.get_by_role("link", name="camellia", exact=True).drag_to(target)
    tried = page.locator("#tried")
    expect(tried.get_by_role("heading", name="Camellia on Long Border 7")).to_be_visible()
    expect(tried.get_by_role("row", name="Soil pH").get_by_text("too acid")).to_be_visible()
    expect(tried.get_by_role("row", name="Soil pH").get_by_text("right", exact=True)).to_be_visible()
    tried.get_by_role("button", name="Plan camellia here").click()
    expect(page.get_by_role("heading", name="Long Border 7 for camellia")).to_be_visible()
    assert border.plantings.get().crop == "camellia"


def test_a_plot_on_the_map_tries_the_crop_in_hand_by_keyboard(signed_in, live_server, house):
    page, border = signed_in, draw(house)
    page.goto(f"{live_server.url}/plans/fits/?crop=camellia&hand=camellia")
    tab_to(page, page.locator(f"svg a[data-plot='{border.pk}']"))
    page.keyboard.press("Enter")
    expect(page.locator("#tried").get_by_role("heading", name="Camellia on Long Border 7")).to_be_visible()
    expect(page.locator("#tried")).to_be_focused()


def test_ground_without_a_test_on_a_phone(signed_in, live_server, house):
    page, bare = signed_in, house.plots.get(name="Bare bed")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{live_server.url}/plans/plot/{bare.pk}/")
    page.get_by_role("link", name="By feel and by eye").click()
    page.get_by_label("sorrel, heather or moss, no clover").check()
    page.get_by_role("button", name="What can be estimated?").click()
    expect(page.get_by_text("probably acid")).to_be_visible()
    expect(page.get_by_text("Not on a guess")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_the_bench_says_which_test_would_sharpen_it_and_workings_lead_to_their_row(signed_in, live_server, house):
    page, bed = signed_in, house.plots.get(name="Long Border 7")
    bed.slips.get().lines.filter(analyte="buffer pH").delete()
    page.goto(f"{live_server.url}/plans/plot/{bed.pk}/")
    expect(page.get_by_text("would narrow lime")).to_be_visible()
    page.get_by_role("link", name="show the working of Potassium").first.click()
    page.get_by_role("link", name="row 5 of “Potassium: enough, by method and crop”").first.click()
    expect(page.get_by_text("1 row")).to_be_visible()
