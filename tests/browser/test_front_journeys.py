"""From an empty account to a goal: how many pages and fields it takes; and what a phone shows before anybody scrolls."""

import json
from pathlib import Path

import pytest
from django.core.management import call_command
from playwright.sync_api import expect

from tests.helpers.holdings import PASSWORD, holding, owner, plot, slip
from tests.helpers.pressing import press
from web.ground.models import Plot
from web.people.models import Membership, User
from web.planning.models import AdoptedPlan

pytestmark = pytest.mark.browser
PASTE = """text => {
    const data = new DataTransfer();
    data.setData("text/plain", text);
    document.activeElement.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));
}"""


class Counted:
    """A browser's page that counts the pages it opens and the fields that a person fills in."""

    def __init__(self, page, base):
        self.page, self.base, self.pages, self.fields = page, base, 0, 0
        page.on("framenavigated", lambda frame: self._opened(frame))

    def _opened(self, frame) -> None:
        if frame == self.page.main_frame:
            self.pages += 1

    def fill(self, label: str, value: str) -> None:
        self.fields += 1
        self.page.get_by_label(label, exact=True).first.fill(value)

    def choose(self, label: str, value: str) -> None:
        self.fields += 1
        self.page.get_by_label(label, exact=True).first.select_option(value)

    def tick(self, name: str) -> None:
        self.fields += 1
        self.page.get_by_role("radio", name=name, exact=True).check()

    def told(self, journey: str) -> None:
        print(f"\n{journey}: {self.pages} pages, {self.fields} fields")  # noqa: T201 -- the count is what the test is for


@pytest.fixture
def newcomer(page, live_server, transactional_db, complaints):
    """Somebody with a fresh account and nothing else, at the question that begins."""
    fresh = holding("Fresh holding")
    page.goto(live_server.url + "/sign-in/")
    page.get_by_label("Email").fill(owner(fresh).email)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="What have you got?").wait_for()
    return Counted(page, live_server.url)


def test_a_gardener_with_a_report_prints_a_sheet(newcomer):
    page = newcomer.page
    page.get_by_role("link", name="A lab report on paper").click()
    newcomer.fill("Name*", "Kitchen bed")
    newcomer.fill("Area*", "1.2 x 8 m")
    newcomer.fill("Crop to plan for*", "cabbage")
    newcomer.fill("Soil pH, value", "5.6")
    newcomer.fill("Phosphorus, value", "40")
    newcomer.fill("Potassium, value", "70")
    page.get_by_role("button", name="Make the plan").click()
    expect(page.locator(".headline")).to_contain_text("too acid for cabbage")
    page.get_by_role("button", name="Adopt and print the sheet").click()
    expect(page.get_by_role("button", name="Print this sheet")).to_be_visible()
    newcomer.told("gardener to a printed sheet")
    assert newcomer.pages <= 3  # the report, the plan, the sheet
    assert newcomer.fields <= 15


def test_a_smallholder_without_a_test_gets_bags_and_grams_to_the_metre(newcomer):
    page = newcomer.page
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("link", name="No test at all").click()
    newcomer.fill("Name*", "Home field")
    newcomer.tick("field")
    page.get_by_label("Livestock graze it").or_(page.get_by_label("Area*")).first.wait_for()
    newcomer.fill("Area*", "an acre")
    newcomer.fill("Crop to plan for*", "maize")
    page.get_by_role("button", name="Go on").click()
    expect(page.locator(".headline")).to_contain_text("Nothing was tested here")
    expect(page.get_by_text("bag").first).to_be_visible()
    page.get_by_role("link", name="To the metre, stride or cup").click()
    expect(page.get_by_text("g", exact=False).first).to_be_visible()
    expect(page.get_by_role("heading", name="Home field measured out")).to_be_visible()
    expect(page.get_by_text("stride").first).to_be_visible()
    newcomer.told("smallholder without a test")
    assert newcomer.pages <= 3  # the ground, the plan, its measures
    assert newcomer.fields <= 6


def test_many_plans_are_adopted_at_once_and_undone_at_once(signed_in, live_server, house):
    page = signed_in
    for number in range(1, 6):
        slip(plot(house, f"Bed {number}", crop="cabbage"))
    page.goto(live_server.url + "/plans/")
    page.get_by_role("button", name="Adopt the ticked plans").click()
    expect(page.get_by_text("plans were adopted")).to_be_visible()
    assert AdoptedPlan.objects.filter(plot__name__startswith="Bed").count() == 5
    page.get_by_role("link", name="All sheets, to print").click()
    expect(page.get_by_role("button", name="Print all")).to_be_visible()
    page.goto(live_server.url + "/changes/")
    press(page, "Undo")
    page.goto(live_server.url + "/today/")
    expect(page.get_by_text("Plans not adopted yet")).to_be_visible()
    assert not AdoptedPlan.objects.filter(plot__name__startswith="Bed").exists()


@pytest.mark.parametrize("adopted", [False, True])
def test_headline_next_job_and_its_button_stand_on_a_phones_first_screen(signed_in, live_server, house, adopted):
    page = signed_in
    page.set_viewport_size({"width": 390, "height": 844})
    border = house.plots.get(name="Long Border 7")
    page.goto(f"{live_server.url}/plans/plot/{border.pk}/")
    if adopted:
        press(page, "Adopt this plan")
        page.goto(f"{live_server.url}/plans/plot/{border.pk}/")
    places = [page.locator(".headline"), page.locator(".ahead li, .next .job").first]
    places.append(page.get_by_role("link", name="Done").first if adopted else page.get_by_role("heading", name="What to do next"))
    for place in places:
        box = place.bounding_box()
        assert box["y"] + min(box["height"], 80) <= 844
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_every_page_of_a_plot_marks_its_place(signed_in, live_server, house):
    page = signed_in
    border = house.plots.get(name="Long Border 7")
    page.goto(f"{live_server.url}/plans/plot/{border.pk}/")
    for name in ("Readings", "Compare", "Measure out", "History", "Plan"):
        page.get_by_role("navigation", name="This plot").get_by_role("link", name=name, exact=True).click()
        expect(page.locator(".places [aria-current]")).to_have_text(name)
    page.get_by_role("navigation", name="This plot").get_by_role("link", name="Compare").click()
    page.get_by_role("link", name="Approaches to fertilizing").click()
    expect(page.locator(".places [aria-current]")).to_have_text("Compare")


def test_an_adviser_begins_at_today_and_proposes(page, live_server, house, complaints):
    adviser = User.objects.create_user("ada@advice.example", PASSWORD)
    Membership.objects.create(user=adviser, holding=house, role="adviser")
    page.goto(live_server.url + "/sign-in/")
    page.get_by_label("Email").fill(adviser.email)
    page.get_by_label("Password").fill(PASSWORD)
    press(page, "Sign in")
    page.get_by_role("link", name="Plans", exact=True).click()
    expect(page.get_by_role("button", name="Adopt the ticked plans")).to_have_count(0)
    page.get_by_role("link", name="Long Border 7").click()
    expect(page.get_by_role("button", name="Adopt this plan")).to_have_count(0)
    page.get_by_role("link", name="Propose a plan").first.click()
    expect(page.get_by_role("heading", name="propose a plan")).to_be_visible()


GEOJSON = """{"type": "FeatureCollection", "features": [
 {"type": "Feature", "properties": {"field": "Long Acre", "zone": "north"}, "geometry": {"type": "Polygon", "coordinates":
  [[[1.2, 52.402], [1.205, 52.402], [1.205, 52.404], [1.2, 52.404], [1.2, 52.402]]]}},
 {"type": "Feature", "properties": {"field": "Long Acre", "zone": "south"}, "geometry": {"type": "Polygon", "coordinates":
  [[[1.2, 52.400], [1.205, 52.400], [1.205, 52.402], [1.2, 52.402], [1.2, 52.400]]]}}]}"""
ZONES = "Sample\tpH\tP mg/kg\tK mg/kg\nLong Acre, north\t5.4\t11\t70\nLong Acre, south\t6.6\t30\t210\n"


def test_a_farmer_goes_from_a_boundary_file_to_rates_by_zone(newcomer, tmp_path):
    page, boundaries = newcomer.page, tmp_path / "fields.geojson"
    boundaries.write_text(GEOJSON)
    page.get_by_role("link", name="A file of field boundaries").click()
    page.get_by_label("GeoJSON").set_input_files(boundaries)
    newcomer.fields += 1
    page.get_by_role("button", name="Import it").click()
    for number in (1, 2):
        newcomer.fill(f"Crop, line {number}", "spring barley")
    press(page, "Keep them")
    page.goto(newcomer.base + "/start/")
    page.get_by_role("link", name="A laboratory’s file or mail").click()
    newcomer.fill("Or paste the results", ZONES)
    page.get_by_role("button", name="Look it over").click()
    press(page, "Read 2 reports in")
    expect(page.get_by_role("heading", name="imported")).to_be_visible()
    page.get_by_role("link", name="Plans", exact=True).click()
    press(page, "Adopt the ticked plans")
    page.get_by_role("link", name="For the contractor").click()
    expect(page.get_by_role("row").filter(has_text="Long Acre, north").first).to_contain_text("t/ha")
    with page.expect_download() as taken:
        page.get_by_role("button", name="GeoJSON").click()
    made = json.loads(Path(taken.value.path()).read_text())
    rates = {item["properties"]["name"]: item["properties"] for item in made["features"]}
    lime = next(column["field"] for column in made["columns"] if "lime" in column["material"])
    assert rates["Long Acre, north"][lime] > 0 == rates["Long Acre, south"][lime]
    newcomer.told("farmer to zone rates and the contractor's file")
    assert newcomer.pages <= 12


def test_a_market_grower_lists_fourteen_beds_and_sixteen_samples(newcomer):
    page = newcomer.page
    crops = ["tomato", "lettuce", "leek", "carrot", "onion", "cabbage", "beetroot"] * 2
    beds = "\n".join(f"Bed {number}\tbed\t1.2 x 20 m\t{crop}" for number, crop in enumerate(crops, 1))
    page.get_by_role("link", name="Many beds or fields").click()
    page.get_by_role("link", name="More lines").click()
    page.get_by_label("Name, line 1", exact=True).focus()
    page.evaluate(PASTE, beds)
    newcomer.fields += 1
    expect(page.get_by_label("Crop, line 14", exact=True)).to_have_value("beetroot")
    page.get_by_role("button", name="Keep them").click()
    samples = [*(f"Bed {number}" for number in range(1, 15)), "Bed 3", "Bed 9"]
    told = "Sample\tDate\tpH\tP mg/kg\tK mg/kg\n" + "".join(
        f"{name}\t{'2026-10-02' if place < 14 else '2026-11-02'}\t{5.6 + place % 5 / 4:.1f}\t{20 + 3 * place}\t{80 + 9 * place}\n"
        for place, name in enumerate(samples)
    )
    page.get_by_role("link", name="Readings", exact=True).click()
    page.get_by_role("link", name="A laboratory's file").click()
    newcomer.fill("Or paste the results", told)
    page.get_by_role("button", name="Look it over").click()
    press(page, "Read 16 reports in")
    expect(page.get_by_role("heading", name="imported")).to_be_visible()  # read in step by step, and led on by itself
    page.get_by_role("link", name="Plans", exact=True).click()
    press(page, "Adopt the ticked plans")
    page.get_by_role("link", name="What to buy").click()
    expect(page.get_by_role("heading", name="What to buy")).to_be_visible()
    page.get_by_role("link", name="Jobs", exact=True).click()
    page.get_by_role("link", name="Calendar").click()
    newcomer.told("market grower to one list and calendar")
    assert newcomer.pages <= 15


def test_a_collector_of_cacti_gets_a_dose_for_the_can_and_acid_for_the_water(newcomer):
    page = newcomer.page
    page.get_by_role("link", name="No test at all").click()
    newcomer.fill("Name*", "Bench of cacti")
    newcomer.tick("containers")
    page.get_by_label("Volume of one*").wait_for()
    newcomer.fill("How many*", "40")
    newcomer.fill("Volume of one*", "0.5 L")
    newcomer.fill("Crop to plan for*", "cacti")
    page.get_by_role("button", name="Go on").click()
    expect(page.locator("main")).to_contain_text("mg/L")
    page.get_by_role("link", name="Measure out").click()
    page.get_by_role("link", name="The tank").click()
    newcomer.fill("Alkalinity, mg/L CaCO₃*", "260")
    page.get_by_role("button", name="Work out the acid").click()
    expect(page.get_by_text("of citric acid")).to_be_visible()
    newcomer.told("cacti to the can's dose and the water's acid")
    assert newcomer.pages <= 8


def test_an_adviser_writes_five_letters(page, live_server, house, complaints):
    adviser = User.objects.create_user("ada@advice.example", PASSWORD, name="Ada Fenn")
    Membership.objects.create(user=adviser, holding=house, role="adviser")
    for number in range(1, 4):
        slip(plot(house, f"Bed {number}", crop="cabbage"))
    told = Counted(page, live_server.url)
    page.goto(live_server.url + "/sign-in/")
    page.get_by_label("Email").fill(adviser.email)
    page.get_by_label("Password").fill(PASSWORD)
    press(page, "Sign in")
    page.get_by_role("link", name="Plans", exact=True).click()
    page.get_by_role("link", name="All letters, to print").click()
    letters = page.get_by_role("article")
    expect(letters.nth(4)).to_contain_text("Ada Fenn")
    assert letters.count() >= 5
    told.told("adviser to five letters")
    assert told.pages <= 12


def test_every_demo_plot_says_what_to_do_on_a_phones_first_screen(page, live_server, transactional_db, complaints):
    call_command("load_demo", verbosity=0)
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(live_server.url + "/sign-in/")
    page.get_by_label("Email").fill("wilma@thornmere.example")
    page.get_by_label("Password").fill("level-the-rake")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today").wait_for()
    low = []
    for bed in Plot.objects.filter(holding__name="Thornmere", zones=None).order_by("pk"):
        page.goto(f"{live_server.url}/plans/plot/{bed.pk}/")
        for place in (".headline", ".next h2", ".ahead li, .next .job, .next .rest-note"):
            found = page.locator(place)
            box = found.first.bounding_box() if found.count() else None
            if box is not None and box["y"] + min(box["height"], 80) > 844:
                low.append((bed.name, place, box["y"]))
    assert low == []
