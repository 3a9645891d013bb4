"""Whole journeys, as a person makes them."""

import re

import pytest
from django.utils import timezone
from playwright.sync_api import expect

from web.desks.models import OwnBlend
from web.ground.models import WaterSource
from web.jobs.models import Job, OwnProgramme
from web.planning.models import AdoptedPlan, LogEntry, PlanProposal, Supplier
from web.readings.models import KitRun, LabFile, MeterSession, SlipLine
from web.sampling.models import SamplingRound
from web.sampling.planning import make_samples
from web.sensors.models import Gateway, Probe

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
    type_into(page, "E-mail address*", "nell@bramble.example")
    type_into(page, "Password*", "long-and-odd-words")
    type_into(page, "Name of your garden, farm or holding*", "Bramble End")
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
    expect(page.get_by_text("far more than used", exact=True)).to_be_visible()
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
    page.get_by_role("link", name="Type in a slip").click()
    page.get_by_label("Soil pH, value").fill("56")
    page.get_by_label("Potassium, value").fill("68")
    page.get_by_label("Potassium, unit").select_option("%")
    expect(page.get_by_text("did you mean 5.6?")).to_be_visible()
    page.get_by_role("button", name="Yes, mg/kg").click()
    expect(page.get_by_label("Potassium, unit")).to_have_value("mg/kg")
    expect(page.get_by_label("Soil pH, value")).to_have_value("56")
    page.get_by_label("Soil pH, value").fill("5,6")
    page.get_by_role("button", name="Keep this slip").last.click()
    expect(page.get_by_role("heading", name="What to do")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    assert sorted(SlipLine.objects.filter(slip__plot__name="Bare bed").values_list("typed", "unit")) == [("5,6", ""), ("68", "mg/kg")]


def test_unsaved_typing_survives_a_reload_and_goes_once_it_is_kept(signed_in):
    page = signed_in
    page.keyboard.press("n")
    page.get_by_label("Soil pH, value").fill("6.1")
    page.reload()
    expect(page.get_by_label("Soil pH, value")).to_have_value("6.1")
    page.get_by_role("button", name="Keep this slip").last.click()
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
    page.get_by_role("button", name="Take it out").click()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("Undone:")).to_be_visible()
    page.keyboard.press("g")
    page.keyboard.press("g")
    expect(page.get_by_role("link", name="Long Border 7")).to_be_visible()


PARTS = 4


def house_pages(house, border: int, slip: int) -> list[str]:
    """Addresses of the pages of ground, samples, readings and sensors, with something on each."""
    plot = house.plots.get(pk=border)
    plot.shape = {"type": "rectangle", "x": 0.0, "y": 0.0, "length": 15.0, "width": 1.2}
    plot.west, plot.south, plot.east, plot.north = 0, 0, 15, 1.2
    plot.save()
    round_ = SamplingRound.objects.create(holding=house, name="Autumn", planned_on="2026-10-01")
    bag = make_samples(round_, plot, variability="ordinary", pair=False, nitrate=False)[0]
    content = b"Sample,pH,P\nLong Border 7,66,12\nelsewhere,6.0,9\n"
    file = LabFile.objects.create(holding=house, name="a.csv", content=content, sha256="1" * 64, sampled_on="2026-10-03")
    run = KitRun.objects.create(holding=house, plot=plot, kit="hedgerow_four", test="ph", step=4)
    meter = MeterSession.objects.create(holding=house, plot=plot, buffers=[{"ph": 7, "mv": 0}, {"ph": 4, "mv": 174}], readings=[{"ph": 6.4, "spread": None}])
    gateway = Gateway.objects.create(holding=house, name="Yard", token_sha256="0" * 64)
    probe = Probe.objects.create(gateway=gateway, key="m-1", name="Moist", quantity="moisture", plot=plot, x=3, y=1, last_at=timezone.now(), last_value=21)
    WaterSource.objects.create(holding=house, name="Tap")
    blend = OwnBlend.objects.create(holding=house, name="Breakfast", parts=[["blood_meal", 1], ["kelp_meal", 1]])
    plan = AdoptedPlan.objects.get()
    proposal = PlanProposal.objects.create(plot=plot, note="so", rules_version="1", request=plan.request, result=plan.result)
    work = Job.objects.filter(plot=plot).first()
    entry = LogEntry.objects.create(holding=house, plot=plot, material="urea", name="urea", kg=1, planned_kg=2)
    own = OwnProgramme.objects.create(holding=house, name="Mine", document={"name": "Mine", "per": "m2", "step": [{"after": 0, "do": "dig"}]})
    seller = Supplier.objects.create(holding=house, name="Barn Lane Stores")
    return [
        f"/ground/board/?plot={border}", f"/ground/{border}/texture/", f"/ground/{border}/crops/", "/ground/years/", "/ground/waters/", "/ground/boundaries/", "/samples/", "/samples/new/",
        f"/samples/{round_.pk}/", f"/samples/{round_.pk}/labels/", f"/samples/{round_.pk}/forms/", f"/samples/bag/{bag.pk}/", f"/samples/at/{bag.code}/", f"/readings/{slip}/",
        f"/plans/plot/{border}/schools/", f"/plans/plot/{border}/given/", f"/plans/plot/{border}/given/?kind=water", f"/plans/plot/{border}/closer/", f"/plans/plot/{border}/sharpen/",
        f"/plans/plot/{border}/untested/", f"/plans/plot/{border}/try/?crop=camellia", "/plans/own/", "/plans/shed/", "/plans/buying/", "/desks/", "/desks/tank/?material=epsom_salt&rate=8&material=calcium_nitrate&rate=4&way=leaf&area=900&water=400&tank=15&tender=on", "/desks/tank/?alkalinity=250&ph=7.8&target=6.2&acid_kind=phosphoric_85&volume=100", "/desks/spreader/", "/desks/sieves/?cce=92&scheme=KY&mesh_10=92&mesh_50=53", "/plans/materials/urea/", "/plans/materials/poultry_litter/", "/desks/blends/?material=blood_meal&parts=2&material=kelp_meal&parts=1&by=scoop&bin=20&plant=1", f"/desks/blends/{blend.pk}/", "/desks/bales/?bales=8&feed=urea&of=straw", f"/desks/plot/{border}/measures/?row=50&plant=30&stride=70&place=seed", f"/desks/plot/{border}/manure/", f"/desks/plot/{border}/weeks/", f"/plans/plot/{border}/propose/", f"/plans/proposals/{proposal.pk}/", "/people/", "/jobs/", f"/jobs/{work.pk}/", "/jobs/log/", f"/jobs/log/{entry.pk}/correct/", "/jobs/totals/", f"/jobs/sheet/?plot={border}", "/jobs/calendar/", "/jobs/programmes/", f"/jobs/programmes/grass_cuts/?plot={border}&start=2027-03-20", f"/jobs/programmes/own/{own.pk}/", "/jobs/days/", f"/desks/plot/{border}/acidity/?warmth=15&months=2", f"/desks/plot/{border}/traces/?element=B", "/plans/holding/", "/plans/suppliers/", f"/plans/suppliers/{seller.pk}/", f"/plans/plot/{border}/swap/calcitic_limestone_ground/", f"/plans/plot/{border}/aims/", "/plans/materials/?for=K", "/plans/materials/together/?material=urea&material=wood_ash&material=gypsum", f"/plans/plot/{border}/nitrogen/", "/plans/fits/?hand=camellia&crop=camellia", f"/readings/plot/{border}/", f"/readings/compare/?first={slip}&second={slip}", "/readings/files/", f"/readings/files/{file.pk}/", "/readings/kits/", "/readings/kits/new/",
        f"/readings/kits/run/{run.pk}/", "/readings/meter/", f"/readings/meter/{meter.pk}/", "/readings/leaf-card/", "/readings/new/?medium=water", "/readings/new/?medium=material",
        "/sensors/", f"/sensors/probe/{probe.pk}/", "/sensors/gateways/", f"/sensors/gateways/{gateway.pk}/",
    ]  # fmt: skip


@pytest.mark.parametrize("part", range(PARTS))
def test_axe_finds_nothing_in_the_rooms(signed_in, live_server, house, axe, part):
    """In parts, so that two workers share them."""
    plot = house.plots.get(name="Long Border 7")
    signed_in.goto(f"{live_server.url}/plans/plot/{plot.pk}/")
    signed_in.get_by_role("button", name="Adopt this plan").click()
    signed_in.get_by_text("was adopted").wait_for()
    found = {}
    for address in house_pages(house, plot.pk, plot.slips.get().pk)[part::PARTS]:
        signed_in.goto(live_server.url + address)
        found[address] = axe(signed_in)
    assert [f"{address} {rows}" for address, rows in found.items() if rows] == []


def test_axe_finds_nothing_on_any_page(signed_in, live_server, house, axe):
    page = signed_in
    border = house.plots.get(name="Long Border 7").pk
    page.goto(f"{live_server.url}/plans/plot/{border}/")
    page.get_by_role("button", name="Adopt this plan").click()
    plan, slip = AdoptedPlan.objects.get().pk, house.plots.get(name="Long Border 7").slips.get().pk
    bare = house.plots.get(name="Bare bed").pk
    addresses = [
        "/ground/", "/ground/?q=zzz", "/start/", "/ground/new/", f"/ground/{border}/edit/", f"/ground/{border}/remove/", "/readings/", "/readings/new/", f"/readings/{slip}/edit/",
        f"/readings/{slip}/remove/", "/plans/", f"/plans/plot/{border}/", f"/plans/plot/{bare}/", f"/plans/plot/{border}/working/dose-0/", f"/plans/{plan}/", f"/plans/{plan}/sheet/",
        "/holding/", "/password/", "/changes/", "/sources/", "/rules/", "/rules/?q=potassium", "/plans/fits/", "/keys/", "/nowhere/",
    ]  # fmt: skip
    found = {}
    for address in addresses:
        page.goto(live_server.url + address)
        found[address] = axe(page)
    page.goto(f"{live_server.url}/plans/plot/{border}/")
    page.get_by_role("link", name=re.compile("show the working")).first.click()
    page.locator(".working").wait_for()
    found["working opened in place"] = axe(page)
    page.goto(f"{live_server.url}/readings/new/")
    page.get_by_label("Potassium, value").fill("900000")
    page.get_by_role("button", name="Keep this slip").last.click()
    page.get_by_text("lies outside").first.wait_for()
    found["slip with errors"] = axe(page)
    page.context.clear_cookies()
    for address in ("/", "/sign-in/", "/sign-up/"):
        page.goto(live_server.url + address)
        found[address] = axe(page)
    assert [f"{address} {rows}" for address, rows in found.items() if rows] == []
