"""Follow up: what was seen is kept, looked at again and settled; salt is washed out; years are laid side by side."""

from datetime import date
from io import BytesIO

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from PIL import Image

from agronomy.diagnose.claims import claim_for_choice
from agronomy.intake.request import read_request
from agronomy.interpret.leaching import flush_ground, flush_pots
from agronomy.plan.plan import make_plan
from agronomy.trial.results import Prices, YearResult, before_after
from tests.helpers.holdings import slip
from tests.helpers.pages import text_of
from tests.helpers.requests import TABLES, document, reading
from web.changes.models import Change
from web.desks.diagnosis.symptom_key import confirmed_on
from web.ground.models import Planting
from web.jobs.models import Job
from web.records.models import LogEntry, Sighting


def jpeg() -> bytes:
    made = BytesIO()
    Image.new("RGB", (40, 30), "#7a8f5a").save(made, "JPEG")
    return made.getvalue()


def test_what_was_seen_is_kept_with_its_photo_looked_at_again_and_settled(grower, border):
    said = {"yes": ["age_young", "pat_net"], "no": ["form_wilt"], "note": "since the lime", "look_on": "2020-01-02"}
    photo = SimpleUploadedFile("leaf.jpg", jpeg(), "image/jpeg")
    assert grower.post(reverse("desks:keep_watch", args=[border.pk]), said | {"photo": photo}).status_code == 302
    seen = Sighting.objects.get()
    assert (seen.seen, seen.not_seen, bool(seen.likely), bool(seen.photo)) == (said["yes"], said["no"], True, True)
    page = text_of(grower.get(reverse("desks:watch")))
    assert "since the lime" in page
    assert "due" in page
    assert "Look again" in text_of(grower.get(reverse("today")))
    assert grower.post(reverse("desks:settle_watch", args=[seen.pk]), {"settled_as": ""}).status_code == 422
    grower.post(reverse("desks:settle_watch", args=[seen.pk]), {"settled_as": "too much lime", "confirmed": "ph_high"})
    assert "too much lime" in text_of(grower.get(reverse("desks:watch")))
    assert [case.cause for case in confirmed_on(border.holding)] == ["ph_high"]
    grower.post(reverse("changes:undo", args=[Change.objects.first().pk]))
    assert (Sighting.objects.get().settled_on, confirmed_on(border.holding)) == (None, [])
    grower.post(reverse("desks:drop_watch", args=[seen.pk]))
    assert not Sighting.objects.exists()
    assert grower.post(reverse("desks:keep_watch", args=[border.pk]), {"photo": SimpleUploadedFile("a.jpg", b"no")}).status_code == 422


def test_a_saying_stands_beside_a_sign_until_it_is_waved_off(grower, border):
    border.plantings.update(crop="tomato")
    asked = f"{reverse('desks:ailing')}?plot={border.pk}&yes=fruit_end_rot"
    assert "Epsom salt stops blossom-end rot" in text_of(grower.get(asked))
    assert grower.post(reverse("wave_off", args=["epsom_ber"]), {"next": asked}).url == asked
    assert "Epsom salt" not in text_of(grower.get(asked))
    assert grower.post(reverse("wave_off", args=["unicorn"])).status_code == 404


def test_salt_that_builds_up_is_told_on_the_first_page(grower, border):
    border.plantings.update(crop="onion")
    for year, salt in ((2024, "0.6"), (2025, "1.1")):
        slip(border, [("EC", salt, "dS/m", "saturated paste")], taken_on=date(year, 10, 1))
    assert f"Salt is building up in {border.name}" in text_of(grower.get(reverse("today")))
    slip(border, [("EC", "4", "dS/m", "saturated paste")], taken_on=date(2026, 10, 1))
    assert f"Too much salt in {border.name}" in text_of(grower.get(reverse("today")))


def test_what_the_log_knows_is_told_and_can_be_disputed(grower, border):
    LogEntry.objects.create(
        holding=border.holding, plot=border, material="potassium_sulfate", name="potash", kg=2, done_on=timezone.localdate()
    )
    asked = f"{reverse('desks:ailing')}?plot={border.pk}&yes=age_old&yes=pat_herring"
    page = text_of(grower.get(asked))
    assert "kg/ha of K₂O within a year, by the log" in page
    assert "Much potash keeps magnesium out." in page
    assert "by the log" not in text_of(grower.get(f"{asked}&no=gr_k_heavy"))


@pytest.mark.parametrize(
    ("now", "wanted", "depth", "way", "mm"), [(8, 3, 60, "ponded", 480), (8, 3, 60, "soaks", 160), (2, 3, 60, "soaks", 0)]
)
def test_water_that_washes_salt_down_as_published(now, wanted, depth, way, mm):
    told = flush_ground(now, wanted, depth, way, TABLES)
    assert told.amount == pytest.approx(mm)
    assert told.low <= told.amount <= told.high


def test_one_pot_volume_leaves_three_tenths_of_the_salt_and_two_a_tenth():
    assert flush_pots(5.0, 5.0 * 0.3012, 10.0, TABLES).amount == pytest.approx(10.0, rel=1e-3)
    assert flush_pots(5.0, 5.0 * 0.0907, 10.0, TABLES).amount == pytest.approx(20.0, rel=1e-3)


def test_washing_goes_on_the_list_once(grower, border):
    address = reverse("desks:flush", args=[border.pk]) + "?now=4&wanted=1.5&way=soaks"
    assert "40 mm" in text_of(grower.get(address))
    grower.post(address)
    assert Job.objects.get(plot=border, what="flush").kg == 0
    assert grower.get(reverse("desks:flush", args=[border.pk]) + "?now=x&wanted=1").status_code == 422


def test_two_years_are_told_beside_what_other_plots_did_and_never_as_the_cause(grower, border):
    year = timezone.localdate().year
    for back, got in ((2, 5.0), (1, 6.0)):
        Planting.objects.create(plot=border, crop="dahlia", ended_on=date(year - back, 9, 1), yield_got_t_per_ha=got)
    asked = f"?plot={border.name}|dahlia&before={year - 2}&after={year - 1}&price=100"
    page = text_of(grower.get(reverse("results") + asked))
    assert "followed by, not caused" in page
    assert "100 a hectare" in page
    assert grower.get(reverse("results") + asked.replace(str(year - 2), "1999")).status_code == 422
    rows = [
        YearResult(plot=p, crop="a", year=y, t_per_ha=t, money_per_ha=0)
        for p, y, t in (("x", 1, 4.0), ("x", 2, 5.0), ("y", 1, 4.0), ("y", 2, 4.6))
    ]
    assert before_after(rows, ["x"], "a", (1, 2), Prices(first=0.0)).followed == pytest.approx(0.4)
    two_crops = f"?plot={border.name}|dahlia&plot={border.name}|tulip&before={year - 2}&after={year - 1}"
    assert grower.get(reverse("results") + two_crops).status_code == 422


def test_a_saying_is_told_as_a_material_is_chosen_unless_the_ground_gives_the_reason(grower):
    epsom, lines = TABLES.materials["epsom_salt"], {"Mg": (20, "ammonium acetate"), "K": (300, "ammonium acetate")}
    short = document(reading("pH", 6.6), *(reading(key, value, "mg/kg", method) for key, (value, method) in lines.items()))
    findings = make_plan(read_request(short, TABLES), TABLES).findings
    assert claim_for_choice(epsom, [], TABLES).key == "epsom_tonic"
    assert claim_for_choice(epsom, findings, TABLES) is None  # magnesium is short here
    for name in ("learn", "both_sides", "results"):
        assert grower.get(reverse(name)).status_code == 200
