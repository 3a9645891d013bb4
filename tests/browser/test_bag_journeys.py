"""Journeys through bags and measures: stock, the slider, a swap, a blend to its label, a calibration, the list for the holding."""

import pytest
from playwright.sync_api import expect

from tests.browser.test_journeys import tab_to
from tests.helpers.holdings import plot, slip
from tests.helpers.pressing import press
from web.desks.models import OwnBlend, SpreaderRun

pytestmark = pytest.mark.browser
HUNGRY = [
    ("pH", "6.6", "", "water 1:1"),
    ("P", "4", "mg/kg", "Olsen"),
    ("K", "60", "mg/kg", "ammonium acetate"),
    ("Mg", "15", "mg/kg", "ammonium acetate"),
    ("S", "3", "mg/kg", "calcium phosphate"),
]


@pytest.fixture
def hungry(house):
    """A bed of carrots that is short of nearly everything."""
    bed = plot(house, "Carrot bed", crop="carrot", texture="loam", area_m2=60.0)
    slip(bed, HUNGRY)
    return bed


def test_one_bed_takes_what_stands_in_the_shed_and_then_a_swap(signed_in, live_server, hungry):
    page = signed_in
    page.goto(f"{live_server.url}/plans/plot/{hungry.pk}/")
    expect(page.get_by_role("heading", name="muriate of potash").first).to_be_visible()
    page.goto(f"{live_server.url}/supplies/")
    page.get_by_label("Material").select_option(label="sulfate of potash")
    page.get_by_label("How much is there").fill("25 kg")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("Sulfate of potash in the shed was recorded")).to_be_visible()
    page.goto(f"{live_server.url}/plans/plot/{hungry.pk}/")
    expect(page.get_by_text("It is in your shed").first).to_be_visible()
    page.get_by_role("link", name="swap sulfate of potash for …").first.click()
    expect(page.get_by_role("heading", name="instead of sulfate of potash")).to_be_visible()
    tab_to(page, page.get_by_role("button", name="Take it: muriate of potash"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="muriate of potash").first).to_be_visible()
    expect(page.get_by_text("You asked for it").first).to_be_visible()
    press(page, "Undo")
    page.goto(f"{live_server.url}/plans/plot/{hungry.pk}/")
    expect(page.get_by_role("heading", name="sulfate of potash").first).to_be_visible()


def test_the_slider_moves_between_the_aims_by_keyboard(signed_in, live_server, hungry):
    page = signed_in
    page.goto(f"{live_server.url}/plans/plot/{hungry.pk}/aims/")
    bags = page.get_by_label("At most so many bags of nutrients")
    most = int(bags.get_attribute("max"))
    assert most >= 2
    before = page.locator(".slid__cost").inner_text()
    bags.focus()
    with page.expect_response("**/aims/slide/**"):
        page.keyboard.press("Home")
    expect(page.get_by_text("does not meet every need").first).to_be_visible()
    expect(page.locator(".slid__cost")).not_to_have_text(before)
    press(page, "Use this place")
    page.get_by_role("link", name="Compare", exact=True).click()
    page.get_by_role("link", name="Other bags for the same needs").click()
    expect(page.get_by_text("No more than 1 bag of nutrients:", exact=False)).to_be_visible()
    hungry.refresh_from_db()
    assert (hungry.aim, hungry.most_bags) == ("money", 1)


def test_a_blend_is_mixed_kept_and_labelled_on_a_phone(signed_in, live_server, house):
    page = signed_in
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("link", name="Jobs", exact=True).click()
    page.get_by_role("link", name="Calculators").click()
    page.get_by_role("link", name="Own blends").click()
    for place, (name, parts) in enumerate((("blood meal", "2"), ("bone meal, steamed", "3"), ("kelp meal", "1")), 1):
        page.get_by_label(f"Material {place}", exact=True).select_option(label=name)
        page.get_by_label(f"parts of material {place}", exact=True).fill(parts)
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_text("5.2-8.5-0.3")).to_be_visible()
    page.get_by_label("Name to keep it by").fill("Border breakfast")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("article").get_by_role("heading", name="Border breakfast")).to_be_visible()
    expect(page.get_by_text("use by")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    page.emulate_media(media="print")
    expect(page.get_by_role("button", name="Print")).to_be_hidden()
    assert OwnBlend.objects.get().by == "scoop"


def test_a_spreader_is_calibrated_by_trays_and_by_a_walk(signed_in, live_server, house):
    page = signed_in
    page.goto(f"{live_server.url}/desks/spreader/")
    page.get_by_label("Spreader*").fill("the green barrow")
    page.get_by_label("Material").select_option(label="urea")
    page.get_by_label("Setting*").fill("4")
    page.get_by_label("Measured by").select_option(label="trays")
    page.get_by_label("What each tray caught").fill("5 20 40 50 40 20 5")
    page.get_by_label("From tray to tray").fill("50")
    page.get_by_role("button", name="Work it out").click()
    expect(page.get_by_role("group", name="One pass caught 5, 20, 40, 50")).to_be_visible()
    expect(page.get_by_text("widest that serves")).to_be_visible()
    page.get_by_label("Measured by").select_option(label="a walk")
    for setting, grams in (("4", "640 g"), ("6", "960 g")):
        page.get_by_label("Setting*").fill(setting)
        page.get_by_label("Spreader*").fill("the green barrow")
        page.get_by_label("Material*", exact=True).select_option(label="urea")
        page.get_by_label("Measured by").select_option(label="a walk")
        page.get_by_label("Width it covers").fill("8")
        page.get_by_label("Spread or caught").fill(grams)
        page.get_by_label("Length of the walk").fill("20")
        page.get_by_role("button", name="Keep the setting").click()
        expect(page.get_by_text(f"the green barrow at {setting} was kept")).to_be_visible()
    page.get_by_label("Wanted rate").fill("50")
    page.get_by_role("button", name="Which setting").click()
    expect(page.get_by_text("Setting 5.0")).to_be_visible()
    assert SpreaderRun.objects.count() == 2


def test_the_holding_shares_bags_and_the_list_says_by_when_to_order(signed_in, live_server, house, hungry):
    page = signed_in
    page.goto(f"{live_server.url}/supplies/suppliers/")
    page.get_by_label("Name").fill("Barn Lane Stores")
    page.get_by_label("Days from order to delivery").fill("14")
    page.get_by_role("button", name="Keep", exact=True).click()
    page.get_by_label("Material*", exact=True).select_option(label="muriate of potash")
    page.get_by_label("Price").fill("10 per 25 kg")
    page.get_by_role("button", name="Keep the price").click()
    expect(page.get_by_text("€0.40 a kg")).to_be_visible()
    page.get_by_role("link", name="Plans", exact=True).click()
    page.get_by_role("link", name="Bags for the whole holding").click()
    expect(page.get_by_role("heading", name="The bags")).to_be_visible()
    expect(page.get_by_text("No other choice could be better by more than")).to_be_visible()
    page.get_by_label("Parts of bags can be bought").check()
    page.get_by_role("button", name="Choose", exact=True).click()
    expect(page.get_by_label("Parts of bags can be bought")).to_be_checked()
    page.get_by_role("button", name="Ask for these bags on every plot").click()
    for name in ("Carrot bed", "Long Border 7"):
        page.goto(f"{live_server.url}/plans/plot/{house.plots.get(name=name).pk}/")
        page.get_by_role("button", name="Adopt this plan").click()
        expect(page.get_by_text(f"The plan for {name} was adopted")).to_be_visible()
    page.goto(f"{live_server.url}/supplies/buying/")
    expect(page.get_by_role("heading", name="From Barn Lane Stores")).to_be_visible()
    expect(page.get_by_role("columnheader", name="Order by")).to_be_visible()
    expect(page.get_by_role("row", name="Muriate of potash")).to_contain_text("Carrot bed")
