"""The bench, adopted plans and sheets: what they show, in whose units, and that they stay as they were."""

import json
import re

from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.urls import reverse

from tests.helpers.holdings import plot, slip
from tests.helpers.pages import text_of
from web.planning.models import AdoptedPlan, PlanProposal
from web.readings.models import LabResult


def text(response) -> str:
    assert response.status_code == 200
    return re.sub(r"\s+", " ", text_of(response))


def bench(client, of) -> str:
    return text(client.get(reverse("planning:bench", args=[of.pk])))


def adopt(client, of) -> AdoptedPlan:
    client.post(reverse("planning:adopt", args=[of.pk]))
    return AdoptedPlan.objects.get()


def test_the_bench_says_what_to_do_and_what_not(grower, border):
    shown = bench(grower, border)
    assert "<b>9 kg</b> ground limestone" in shown
    assert "far too much" in shown
    assert "No phosphorus: this ground holds several years" in shown
    assert "Lime dust burns eyes and lungs" in shown
    assert "Soil pH 5.7: too acid" in shown  # the drawing's own words for those who don't see it


def test_nothing_needed_is_a_full_answer(grower, thornmere):
    quiet = plot(thornmere, "Quiet bed", crop="broad_beans", texture="loam")
    slip(quiet, [("pH", "6.6", "", "water 1:1")])
    assert "Phosphorus and potassium were not tested" in bench(grower, quiet)
    slip(quiet, [("pH", "6.6", "", "water 1:1"), ("P", "60", "mg/kg", "Olsen"), ("K", "260", "mg/kg", "ammonium acetate")])
    assert "Nothing is needed" in bench(grower, quiet)


def test_waiting_benches_say_what_is_missing(grower, thornmere):
    bare = plot(thornmere, "Bare bed")
    assert "Nothing was tested here" in bench(grower, bare)
    bare.plantings.all().delete()
    assert "Say what you mean to grow here" in bench(grower, bare)


def test_a_stored_value_that_no_longer_fits_is_told_not_a_crash(grower, border):
    LabResult.objects.filter(analyte="pH").update(typed="banana")
    assert "is not a number" in bench(grower, border)
    assert "a reading needs your attention" in text(grower.get(reverse("ground_page")))


def test_the_switch_of_units_changes_every_figure_and_back(grower, border):
    adopted = adopt(grower, border)
    pages = [
        reverse("planning:bench", args=[border.pk]),
        reverse("planning:adopted", args=[adopted.pk]),
        reverse("planning:sheet", args=[adopted.pk]),
        reverse("ground_page"),
    ]
    working = reverse("planning:adopted_working", args=[adopted.pk, "dose-0"])

    def body(address):
        shown = re.sub(r'<input type="hidden" name="(csrfmiddlewaretoken|once)"[^>]*>', "", text(grower.get(address)))
        return shown[shown.index("<h1") :]

    before = [body(page) for page in [*pages, working]]
    grower.post(reverse("people:units"), {"units": "us", "next": pages[0]})
    metric = re.compile(r"\d\s(kg|g|g/m²|m²|cm|kg/ha|t/ha)\b")
    for page in [*pages, working]:
        # the formulas keep their own constants, and the place in a source its own words
        shown = re.sub(r"<small>.*?</small>|<span class=\"working__formula\">.*?</span>", "", body(page))
        assert not metric.findall(re.sub(r"\d+ (mg/kg|cmol/kg)", "", shown)), page
    grower.post(reverse("people:units"), {"units": "metric"})
    assert [body(page) for page in [*pages, working]] == before


def test_an_adopted_plan_stays_as_it_was(grower, border):
    adopted = adopt(grower, border)
    address = reverse("planning:sheet", args=[adopted.pk])
    before = text(grower.get(address)).split("<main")[1].split("csrf")[-1]
    LabResult.objects.filter(analyte="pH").update(typed="6.8")
    assert "too acid" not in bench(grower, border)
    assert text(grower.get(address)).split("<main")[1].split("csrf")[-1].split("<article")[1] == before.split("<article")[1]
    document = grower.get(reverse("planning:json", args=[adopted.pk])).json()
    assert document["request"]["plot"]["area"] == "18.0 m2"
    assert document["plan"]["applications"][0]["total_kg"] == 9.0


def test_a_withdrawn_plan_is_gone_and_undo_brings_it_back(grower, border):
    adopted = adopt(grower, border)
    page = text(grower.post(reverse("planning:withdraw", args=[adopted.pk]), follow=True))
    grower.post(re.findall(r"/changes/\d+/undo/", page)[-1])
    assert AdoptedPlan.objects.get().result == adopted.result


def test_working_opens_as_a_page_and_as_a_part(grower, border):
    address = reverse("planning:bench_working", args=[border.pk, "dose-0"])
    assert "<html" in text(grower.get(address))
    part = text(grower.get(address, headers={"hx-request": "true"}))
    assert "<html" not in part
    assert "as pure CaCO3" in part
    assert "/sources/?at=vitosh-1995#vitosh-1995" in part
    for wrong in ("dose-99", "finding-Xx", "need-x", "soot"):
        assert grower.get(reverse("planning:bench_working", args=[border.pk, wrong])).status_code == 404


def test_the_country_s_way_of_showing_potassium(grower, thornmere, border):
    assert "potassium, as K₂O" in bench(grower, border)
    thornmere.nutrient_form = "element"
    thornmere.save()
    assert "K₂O" not in bench(grower, border)


def test_days_are_told_another_way_as_soon_as_the_holding_says_so(grower, thornmere, border):
    address = reverse("planning:bench", args=[border.pk])
    before = text_of(grower.get(address))
    thornmere.days = "month"
    thornmere.save()
    after = text_of(grower.get(address))
    day, month = re.search(r"\b(\d{1,2}) (Mar|Apr|May|Jun)\b", before).groups()
    assert f"{month} {day}" in after
    assert f"{day} {month}" not in after


def test_schools_stand_side_by_side_and_a_plot_may_go_by_its_own(grower, border):
    border.plantings.update(crop="potato")
    page = text(grower.get(reverse("planning:schools", args=[border.pk])))
    assert page.count("Choose</button>") == 5
    assert "ideal ratio" in page
    assert "No bought nitrogen by this approach" in page
    grower.post(reverse("planning:choose_school", args=[border.pk]), {"school": "replacement"})
    assert "Approach: replacement" in bench(grower, border)
    assert grower.post(reverse("planning:choose_school", args=[border.pk]), {"school": "wishing"}).status_code == 404
    border.holding.school = "low_input"
    border.holding.save()
    border.refresh_from_db()
    assert "Approach: replacement" in bench(grower, border)  # the plot's own goes before the holding's
    assert "Approach: low input" in bench(grower, plot_with_slip(border.holding))


def plot_with_slip(holding):
    other = plot(holding, "Other bed")
    slip(other)
    return other


def test_crops_are_compared_over_all_plots(grower, border):
    page = text(grower.get(reverse("planning:fits"), {"crop": ["camellia", "carrot", "nonsense"]}))
    assert "Camellia" in page
    assert "needs lime" in page
    assert text(grower.get(reverse("planning:fits"))).count("planned") == 1


def test_a_plans_file_is_read_in_made_again_and_waits_as_a_proposal(grower, border, thornmere):
    grower.post(reverse("planning:adopt", args=[border.pk]))
    content = grower.get(reverse("planning:json", args=[AdoptedPlan.objects.get().pk])).content
    address = reverse("planning:read_plan", args=[border.pk])

    def sent(told) -> HttpResponse:
        return grower.post(
            address, {"file": SimpleUploadedFile("plan.json", told if isinstance(told, bytes) else json.dumps(told).encode())}
        )

    assert sent(content).status_code == 302
    assert "the same as the file" in PlanProposal.objects.get().note
    changed = json.loads(content)
    changed["plan"]["applications"][0]["total_kg"] *= 2
    sent(changed)
    assert "in the file" in PlanProposal.objects.first().note
    changed["request"]["plot"]["area"] = 4000
    for bad, says in ((b"\x00", "not JSON"), ([], "begins with a list"), ({"plan": {}}, "no request"), (changed, "this plot has")):
        answer = sent(bad)
        assert answer.status_code == 422
        assert says in text_of(answer)
    assert PlanProposal.objects.count() == 2
