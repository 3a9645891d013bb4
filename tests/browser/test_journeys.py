"""Whole journeys, as a person makes them."""

import re

import pytest
from django.test import Client
from playwright.sync_api import expect

from tests.helpers.addresses import one_of_everything, pages
from tests.helpers.holdings import owner
from web.planning.models import AdoptedPlan
from web.readings.models import LabResult

pytestmark = pytest.mark.browser


def type_into(page, label: str, text: str) -> None:
    """Tabs until the field of this label has the focus, then types."""
    tab_to(page, page.get_by_label(label, exact=True))
    page.keyboard.type(text)


def tab_to(page, target, key: str = "Tab") -> None:
    for _ in range(80):
        if target.evaluate("element => element === document.activeElement"):
            return
        page.keyboard.press(key)
    raise AssertionError(f"the keyboard never reaches {target}")


def test_from_sign_up_to_a_printed_sheet_by_keyboard_alone(page, live_server, transactional_db, complaints):
    page.goto(live_server.url)
    tab_to(page, page.get_by_role("link", name="Sign up and begin"))
    page.keyboard.press("Enter")
    type_into(page, "Email address*", "nell@bramble.example")
    type_into(page, "Password*", "long-and-odd-words")
    type_into(page, "Name of your garden, farm or holding*", "Bramble End")
    page.keyboard.press("Enter")

    tab_to(page, page.get_by_role("link", name="A lab report on paper"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Your first plan")).to_be_visible()
    type_into(page, "Name*", "Bed 3")
    type_into(page, "Area*", "18 m2")
    type_into(page, "Texture of the soil", "sandy loam")
    type_into(page, "Crop to plan for*", "dahlia")
    ph = page.get_by_label("Soil pH, value")
    tab_to(page, ph)
    for typed in ("5,7", "6.6", "118", "58", "41", "3.4"):  # Enter moves down, as in a ledger
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Make the plan")).to_be_focused()
    page.keyboard.press("Enter")

    expect(page.get_by_role("heading", name="Bed 3")).to_be_visible()
    expect(page.get_by_text("far too much", exact=True)).to_be_visible()
    expect(page.get_by_role("img", name="The readings as a rake")).to_be_visible()
    opener = page.get_by_role("link", name="show the working of dolomitic ground limestone").first
    tab_to(page, opener)
    page.keyboard.press("Enter")
    expect(page.get_by_text("as pure CaCO3").first).to_be_visible()
    page.keyboard.press("Enter")  # and closes again
    expect(page.get_by_text("as pure CaCO3")).to_have_count(0)

    tab_to(page, page.get_by_role("button", name="Adopt this plan"), "Shift+Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_text("The plan for Bed 3 was adopted")).to_be_visible()
    tab_to(page, page.get_by_role("link", name="Sheet for the shed"))
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Print this sheet")).to_be_visible()
    for size in ("A4", "Letter"):
        pdf = page.pdf(format=size, prefer_css_page_size=False)
        assert len(re.findall(rb"/Type\s*/Page\b", pdf)) == 1, size
    assert AdoptedPlan.objects.count() == 1


def test_a_slip_at_phone_size_with_a_doubt_and_one_tap(signed_in, house):
    page = signed_in
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("link", name="Bare bed").click()
    page.get_by_role("link", name="Type in a lab report").click()
    page.get_by_label("Soil pH, value").fill("56")
    page.get_by_label("Potassium, value").fill("68")
    page.get_by_label("Potassium, unit").select_option("%")
    expect(page.get_by_text("did you mean 5.6?")).to_be_visible()
    page.get_by_role("button", name="Yes, mg/kg").click()
    expect(page.get_by_label("Potassium, unit")).to_have_value("mg/kg")
    expect(page.get_by_label("Soil pH, value")).to_have_value("56")
    page.get_by_label("Soil pH, value").fill("5,6")
    page.get_by_role("button", name="Keep this report").last.click()
    expect(page.get_by_role("heading", name="What to do")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    assert sorted(LabResult.objects.filter(slip__plot__name="Bare bed").values_list("typed", "unit")) == [("5,6", ""), ("68", "mg/kg")]


def test_unsaved_typing_survives_a_reload_and_goes_once_it_is_kept(signed_in):
    page = signed_in
    page.keyboard.press("n")
    page.get_by_label("Soil pH, value").fill("6.1")
    page.reload()
    expect(page.get_by_label("Soil pH, value")).to_have_value("6.1")
    page.get_by_role("button", name="Keep this report").last.click()
    expect(page.get_by_role("heading", name="What the soil says")).to_be_visible()
    page.keyboard.press("n")
    expect(page.get_by_label("Soil pH, value")).to_have_value("")


def test_keys_units_and_undo(signed_in):
    page = signed_in
    page.keyboard.press("?")
    expect(page.get_by_role("complementary", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("bord")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name="Quiet bed")).to_have_count(0)
    page.get_by_role("link", name="Long Border 7").click()
    expect(page.get_by_text("9 kg").first).to_be_visible()
    page.get_by_role("button", name="US", exact=True).click()
    expect(page.get_by_text("20 lb").first).to_be_visible()
    page.get_by_role("link", name="Change the plot").click()
    page.get_by_role("link", name="Take this plot out of use").click()
    page.get_by_role("button", name="Delete it").click()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Undone:")).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("g")
    expect(page.get_by_role("link", name="Long Border 7")).to_be_visible()


PARTS = 2


# The same pages with something asked of them: what is worked out must be as easy to read as what is asked.
ASKED = (
    "/ground/board/?plot={plot}",
    "/plans/plot/{plot}/given/?kind=water",
    "/plans/plot/{plot}/try/?crop=camellia",
    "/desks/tank/?material=epsom_salt&rate=8&material=calcium_nitrate&rate=4&way=leaf&area=900&water=400&tank=15&tender=on",
    "/desks/tank/?alkalinity=250&ph=7.8&target=6.2&acid_kind=phosphoric_85&volume=100",
    "/desks/sieves/?cce=92&scheme=KY&mesh_10=92&mesh_50=53",
    "/desks/blends/?material=blood_meal&parts=2&material=kelp_meal&parts=1&by=scoop&bin=20&plant=1",
    "/desks/bales/?bales=8&feed=urea&of=straw",
    "/desks/plot/{plot}/measures/?row=50&plant=30&stride=70&place=seed",
    "/jobs/sheet/?plot={plot}",
    "/jobs/programmes/grass_cuts/?plot={plot}&start=2027-03-20",
    "/desks/plot/{plot}/acidity/?warmth=15&months=2",
    "/desks/plot/{plot}/traces/?element=B",
    "/plans/plot/{plot}/swap/calcitic_limestone_ground/",
    "/plans/materials/?for=K",
    "/plans/materials/together/?material=urea&material=wood_ash&material=gypsum",
    "/plans/materials/poultry_litter/",
    "/plans/fits/?hand=camellia&crop=camellia",
    "/readings/compare/?first={slip}&second={slip}",
    "/readings/new/?medium=water",
    "/readings/new/?medium=material",
    "/rules/?q=potassium",
    "/ground/?q=zzz",
    "/nowhere/",
)


@pytest.fixture
def everything(house):
    """One of everything on Long Border 7, which lies on the map."""
    border = house.plots.get(name="Long Border 7")
    border.shape = {"type": "rectangle", "x": 0.0, "y": 0.0, "length": 15.0, "width": 1.2, "turn": 0}
    border.west, border.south, border.east, border.north = 0, 0, 15, 1.2
    border.save()
    grower = Client()
    grower.force_login(owner(house))
    objects = one_of_everything(grower, border)
    return [*pages(grower, objects), *(asked.format(**objects) for asked in ASKED)]


@pytest.mark.parametrize("part", range(PARTS))
def test_axe_finds_nothing_on_any_page_of_the_resolver(signed_in, live_server, everything, axe, part):
    """Two workers share them."""
    found = {}
    for address in everything[part::PARTS]:
        signed_in.goto(live_server.url + address)
        found[address] = axe(signed_in)
    assert [f"{address} {rows}" for address, rows in found.items() if rows] == []


def test_axe_finds_nothing_in_what_opens_or_goes_wrong(signed_in, live_server, house, axe):
    page, found = signed_in, {}
    border = house.plots.get(name="Long Border 7").pk
    page.goto(f"{live_server.url}/plans/plot/{border}/")
    page.get_by_role("link", name=re.compile("show the working")).first.click()
    page.locator(".working").wait_for()
    found["working opened in place"] = axe(page)
    page.goto(f"{live_server.url}/readings/new/")
    page.get_by_label("Potassium, value").fill("900000")
    page.get_by_role("button", name="Keep this report").last.click()
    page.get_by_text("is outside").first.wait_for()
    found["slip with errors"] = axe(page)
    page.context.clear_cookies()
    for address in ("/", "/sign-in/", "/sign-up/"):
        page.goto(live_server.url + address)
        found[address] = axe(page)
    assert [f"{address} {rows}" for address, rows in found.items() if rows] == []
