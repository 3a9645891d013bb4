"""From an empty account to a goal: how many pages and fields it takes; and what a phone shows before anybody scrolls."""

import pytest
from playwright.sync_api import expect

from tests.helpers.holdings import PASSWORD, holding, owner, plot, slip
from web.people.models import Membership, User
from web.planning.models import AdoptedPlan

pytestmark = pytest.mark.browser


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
    page.get_by_role("button", name="Undo").first.click()
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
        page.get_by_role("button", name="Adopt this plan").click()
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
    page.get_by_role("link", name="Schools of fertilizing").click()
    expect(page.locator(".places [aria-current]")).to_have_text("Compare")


def test_an_adviser_begins_at_today_and_proposes(page, live_server, house, complaints):
    adviser = User.objects.create_user("ada@advice.example", PASSWORD)
    Membership.objects.create(user=adviser, holding=house, role="adviser")
    page.goto(live_server.url + "/sign-in/")
    page.get_by_label("Email").fill(adviser.email)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name="Plans", exact=True).click()
    expect(page.get_by_role("button", name="Adopt the ticked plans")).to_have_count(0)
    page.get_by_role("link", name="Long Border 7").click()
    expect(page.get_by_role("button", name="Adopt this plan")).to_have_count(0)
    page.get_by_role("link", name="Propose a plan").first.click()
    expect(page.get_by_role("heading", name="propose a plan")).to_be_visible()
