"""What a plot is given, what would sharpen its plan, ground without a test, own figures, crops tried: through the client."""

import re
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.helpers.holdings import plot, slip
from tests.helpers.pages import page, text_of
from web.ground.models import NutrientCredit, OwnCrop
from web.planning.service import crop_of
from web.readings.models import LabReport


@pytest.fixture
def field(thornmere):
    made = plot(thornmere, "North zone", crop="maize", kind="field", area_m2=21000, depth_cm=20, texture="loam")
    slip(made, [("pH", "6.4", "", "water 1:1"), ("P", "40", "mg/kg", "Mehlich 3"), ("K", "60", "mg/kg", "Mehlich 3"), ("OM", "3", "%", "")])
    return made


SLURRY = {"kind": "manure", "what": "cattle_slurry", "rate": "20 t/ha", "on": "2099-03-20", "worked_in": "one_day"}


def test_gifts_of_every_kind_become_lines_and_move_the_need(grower, field):
    address = reverse("planning:given", args=[field.pk])
    bare, bare_bench = page(grower, "planning:given", field.pk), page(grower, "planning:bench", field.pk)
    for gift in (
        SLURRY,
        {"kind": "legume", "what": "red_clover", "on": "2098-10-01"},
        {"kind": "green_manure", "rate": "3", "nitrogen_pct": "2,8"},
        {"kind": "water", "nitrate_n_mg_per_l": "8", "water": "350 mm"},
        {"kind": "straw", "rate": "1 ton/acre"},
    ):
        assert grower.post(address, gift).status_code == 302
    told = page(grower, "planning:given", field.pk)
    for words in ("Cattle slurry", "Red clover, a full stand", "Green manure", "Irrigation water", "Straw dug in", "22.4 kg/ha N", "P₂O₅"):
        assert words in told
        assert words not in bare
    assert NutrientCredit.objects.get(kind="straw").rate_t_per_ha == pytest.approx(2.2417, rel=1e-3)
    (before,) = re.findall(r"nitrogen</th><td class=\"rate-cell\">([\d.,]+)", bare_bench)
    (after,) = re.findall(r"nitrogen</th><td class=\"rate-cell\">([\d.,]+)", page(grower, "planning:bench", field.pk))
    assert float(after) < float(before)


def test_what_stood_before_is_chosen_never_supposed(grower, field):
    address = reverse("planning:given", args=[field.pk])
    assert grower.post(address, {"kind": "crop_before", "what": "", "on": "2098-10-01"}).status_code == 422
    assert grower.post(address, {"kind": "crop_before", "what": "red_clover", "on": "2098-10-01"}).status_code == 422  # a kind of its own
    assert grower.post(address, {"kind": "crop_before", "what": "cabbage_leaves", "on": "2098-10-01"}).status_code == 302
    assert "Cabbages, leaves left" in page(grower, "planning:given", field.pk)


def test_a_line_is_left_out_and_counted_again(grower, field):
    grower.post(reverse("planning:given", args=[field.pk]), SLURRY)
    switch = reverse("planning:switch_credit", args=[field.pk])
    grower.post(switch, {"line": "organic_matter"})
    grower.post(switch, {"line": "0"})
    field.refresh_from_db()
    assert field.uncounted == ["organic_matter"]
    assert not field.gifts.get().counted
    assert page(grower, "planning:given", field.pk).count("not counted") >= 2
    grower.post(switch, {"line": "organic_matter"})
    field.refresh_from_db()
    assert field.uncounted == []
    assert grower.post(switch, {"line": "7"}).status_code == 404
    assert grower.post(switch, {"line": "weeds"}).status_code == 404


def test_a_refused_gift_keeps_what_was_typed(grower, field):
    answer = grower.post(reverse("planning:given", args=[field.pk]), SLURRY | {"rate": "twenty loads"})
    assert answer.status_code == 422
    assert "twenty loads" in text_of(answer)
    assert grower.get(reverse("planning:given", args=[field.pk]), {"kind": "magic"}).status_code == 404
    assert not field.gifts.exists()


def test_what_nitrogen_pays_leads_once_all_four_figures_are_there(grower, field):
    address = reverse("planning:response", args=[field.pk])
    figures = {"slope": "35", "curvature": "0.12", "nitrogen_price": "1.12", "crop_price": "200 per 1000 kg"}
    missing = grower.post(address, figures | {"crop_price": ""})
    assert missing.status_code == 422
    assert "All four" in text_of(missing)
    assert grower.post(address, figures | {"crop_price": "0"}).status_code == 422
    assert grower.post(address, figures).status_code == 302
    assert "economic rate" in page(grower, "planning:given", field.pk)
    grower.post(address, {})
    assert field.planting.response is None


def test_own_caps_are_kept_with_the_habits_and_hold_the_plan(grower, field, thornmere):
    habits = {
        "name": "Thornmere",
        "units": "metric",
        "hemisphere": "north",
        "currency": "€",
        "nutrient_form": "oxide",
        "school": "sufficiency",
        "chloride": "on",
    }
    assert grower.post(reverse("people:holding"), habits | {"cap_n_kg_per_ha": "50"}).status_code == 302
    assert "Your own cap of 50 kg/ha" in page(grower, "planning:bench", field.pk)


def test_sharpening_is_a_part_of_the_bench_and_a_page_of_its_own(grower, thornmere):
    made = plot(thornmere, "Kit bed", texture="")
    slip(made, [("pH", "5.2", "", "water 1:1")], how="kit")
    assert reverse("planning:sharpen", args=[made.pk]) in page(grower, "planning:bench", made.pk)
    told = page(grower, "planning:sharpen", made.pk)
    assert "Buffer pH" in told
    assert "€5" in told
    part = text_of(grower.get(reverse("planning:sharpen", args=[made.pk]), HTTP_HX_REQUEST="true"))
    assert "<html" not in part
    assert "would narrow" in part


def test_a_closer_look_shows_reach_shares_and_remarks(grower, thornmere):
    made = plot(thornmere, "Beet field", crop="tomato")
    lines = [
        ("pH", "5.4", "", "water 1:1"),
        ("Ca", "900", "mg/kg", "ammonium acetate"),
        ("Mg", "40", "mg/kg", "ammonium acetate"),
        ("K", "300", "mg/kg", "ammonium acetate"),
        ("CEC", "9", "cmol/kg", "ammonium acetate"),
        ("EC", "1.5", "dS/m", "water 1:2"),
    ]
    slip(made, lines)
    told = page(grower, "planning:closer", made.pk)
    for words in ("What roots can reach", "manganese", "Calcium 49.9 %, below 60 to 75 %", "Potassium stands 7.5 to 1", "far too salty"):
        assert words in told
    empty = plot(thornmere, "Bare bed")
    assert "one reading are needed" in page(grower, "planning:closer", empty.pk)


def test_schools_foretell_readings(grower, field):
    told = page(grower, "planning:schools", field.pk)
    assert "Phosphorus expected" in told
    assert told.count("5 years") == 18
    assert "Cost of five years" in told


def test_untested_ground_says_what_it_supposes_and_what_a_test_costs(grower, thornmere):
    bed = plot(thornmere, "New bed", crop="cabbage", texture="")
    assert "By feel and by eye" in page(grower, "planning:bench", bed.pk)
    address = reverse("planning:untested", args=[bed.pk])
    grower.post(address, {"sign": ["heath, pine wood or peat before", "sand: gritty, won't hold together", "made up"]})
    bed.refresh_from_db()
    assert bed.signs == ["heath, pine wood or peat before", "sand: gritty, won't hold together"]
    told = page(grower, "planning:untested", bed.pk)
    for words in ("probably acid", "not measured", "Lime and sulfur</strong>: <b>none", "costs about <b>€39"):
        assert words in told


def test_a_crop_of_ones_own_is_kept_chosen_judged_and_taken_out(grower, thornmere):
    figures = reverse("planning:own_figures")
    assert "rising order" in text_of(grower.post(figures, {"name": "show dahlia", "base": "dahlia", "ph_low": "6.8", "ph_high": "6.2"}))
    assert "Nothing differs" in text_of(grower.post(figures, {"name": "show dahlia", "base": "dahlia"}))
    assert grower.post(figures, {"name": "show dahlia", "base": "dahlia", "ph_low": "6.6", "ph_high": "7.1"}).status_code == 302
    mine = OwnCrop.objects.get()
    assert "already" in text_of(grower.post(figures, {"name": "show dahlia", "base": "tulip", "ph_low": "6"}))
    bed = {"name": "Bench bed", "kind": "bed", "area": "9", "depth": "15 cm", "crop": f"own-{mine.pk}", "dug": "yes", "texture": "loam"}
    assert grower.post(reverse("ground:new_plot"), bed).status_code == 302
    made = thornmere.plots.get(name="Bench bed")
    slip(made, [("pH", "6.4", "", "water 1:1")])
    assert (made.planting.crop, crop_of(made).name, crop_of(made).ph_low) == ("dahlia", "show dahlia", 6.6)
    assert "more acid than show dahlia needs (6.6 to 7.1)" in page(grower, "planning:bench", made.pk)
    assert 'value="show dahlia"' in page(grower, "ground:edit_plot", made.pk)
    assert "show dahlia" in page(grower, "ground:crops", made.pk).lower()
    grower.post(
        reverse("planning:edit_own_crop", args=[mine.pk]), {"name": "show dahlia", "base": "dahlia", "ph_low": "6.0", "ph_high": "7.1"}
    )
    assert "suits show dahlia" in page(grower, "planning:bench", made.pk)
    grower.post(reverse("planning:delete_own_crop", args=[mine.pk]))
    made.planting.refresh_from_db()
    assert made.planting.own_crop is None


def test_a_level_of_ones_own_judges_its_own_method_only(grower, thornmere, border):
    figures = reverse("planning:own_figures")
    assert "no level of" in text_of(grower.post(figures, {"analyte": "P", "method": "Olsen", "level": "99999"}))
    grower.post(figures, {"analyte": "P", "method": "Olsen", "level": "500"})
    assert "The level is your own" not in page(grower, "planning:bench", border.pk)
    grower.post(figures, {"analyte": "P", "method": "Mehlich 3", "level": "500"})
    told = page(grower, "planning:bench", border.pk)
    assert "The level is your own" in told
    assert "very short" in told
    grower.post(reverse("planning:drop_level"), {"level": "1"})
    assert "The level is your own" not in page(grower, "planning:bench", border.pk)
    assert grower.post(reverse("planning:drop_level"), {"level": "9"}).status_code == 404


def test_a_crop_is_tried_on_a_plot_and_then_planned(grower, border):
    told = page(grower, "planning:try_crop", border.pk, crop="camellia")
    assert "Camellia on Long Border 7" in told
    assert "for dahlia" in told
    assert border.plantings.get().crop == "dahlia"
    assert grower.get(reverse("planning:try_crop", args=[border.pk]), {"crop": "weeds"}).status_code == 404
    assert grower.post(reverse("planning:try_crop", args=[border.pk]), {"crop": "camellia"}).status_code == 302
    assert border.plantings.get().crop == "camellia"


def test_the_map_of_fits_marks_plots_and_leads_to_the_trial(grower, border):
    border.shape = {"type": "rectangle", "x": 0.0, "y": 0.0, "length": 15.0, "width": 1.2, "turn": 0}
    border.west, border.south, border.east, border.north = 0, 0, 15, 1.2
    border.save()
    told = page(grower, "planning:fits", hand="blueberry", crop="blueberry")
    assert "map__plot--fit-" in told
    assert f"{reverse('planning:try_crop', args=[border.pk])}?crop=blueberry" in told


def test_a_working_leads_to_the_rows_it_rests_on(grower, border):
    working = page(grower, "planning:bench_working", border.pk, "finding-K")
    start = working.index("/rules/?table=critical/k.csv")
    address = working[start : working.index('"', start)].replace("&amp;", "&")
    assert "1 row" in " ".join(text_of(grower.get(address)).split())


def test_what_the_water_and_the_leaf_say_reaches_the_plan(grower, thornmere):
    bed = plot(thornmere, "Blueberry row", crop="blueberry", kind="row_block", area_m2=60, texture="loam")
    slip(bed, [("pH", "5.9", "", "water 1:1"), ("P", "20", "mg/kg", "Olsen"), ("K", "200", "mg/kg", "ammonium acetate")])
    before = page(grower, "planning:bench", bed.pk)
    assert "limes the ground at every watering" not in before
    well = thornmere.waters.create(name="Well", kind="well")
    bed.water = well
    bed.save()
    found = LabReport.objects.create(holding=thornmere, water=well, medium="water", taken_on="2026-09-01", how="lab")
    found.lines.create(place=0, analyte="alkalinity", typed="280", unit="mg/L CaCO3", method="titration")
    leaf = LabReport.objects.create(holding=thornmere, plot=bed, medium="leaf", taken_on="2026-08-01", how="tissue")
    leaf.lines.create(place=0, analyte="leaf N", typed="1.5", unit="%")
    told = page(grower, "planning:bench", bed.pk)
    assert "limes the ground at every watering (alkalinity 280 mg/L)" in told
    assert "The leaf is very short of nitrogen" in told
    letter = page(grower, "planning:plot_letter", bed.pk)
    assert "Blueberry row: blueberry" in letter
    assert "acidify it, or give rain water" in letter


def test_a_bale_has_its_plan_without_a_soil_test(grower, thornmere):
    bales = plot(thornmere, "Bales", crop="tomato", kind="bale", area_m2=2.7, sizes={"count": 6})
    told = page(grower, "planning:bench", bales.pk)
    assert "Fresh straw ties up nitrogen" in told
    assert grower.post(reverse("planning:adopt", args=[bales.pk])).status_code == 302
    assert "Fresh straw" in page(grower, "planning:letter", bales.adopted_plans.get().pk)


def test_the_crop_before_and_what_it_gave_reach_the_plan(grower, field):
    before = timezone.localdate() - timedelta(days=40)
    field.plantings.update(planted_on=timezone.localdate() + timedelta(days=60))
    field.plantings.create(crop="soybean", planted_on=before - timedelta(days=150), ended_on=before, yield_got_t_per_ha=3.1)
    assert "soybean" in page(grower, "planning:given", field.pk)
    grower.post(reverse("planning:switch_credit", args=[field.pk]), {"line": "history"})
    field.refresh_from_db()
    assert field.uncounted == ["history"]


def test_a_slip_of_leaves_is_judged_for_the_crop_the_stage_and_the_ground(grower, thornmere):
    bed = plot(thornmere, "Tunnel bed", crop="tomato")
    slip(bed, [("pH", "7.6", "", "water 1:1"), ("K", "300", "mg/kg", "Mehlich 3")])
    about = {"plot": bed.pk, "stage": "first flower", "position": "newest fully grown leaf with stalk"}
    lines = [("leaf N", "3.0", "%", "not stated"), ("leaf K", "1.2", "%", "not stated"), ("sap nitrate", "300", "mg/L", "not stated")]
    made = LabReport.objects.create(
        holding=thornmere, plot=bed, medium="leaf", taken_on="2026-08-01", how="tissue", stage=about["stage"], position=about["position"]
    )
    for place, (analyte, typed, unit, method) in enumerate(lines):
        made.lines.create(place=place, analyte=analyte, typed=typed, unit=unit, method=method)
    said = page(grower, "slip_page", made.pk)
    assert "What the leaves of tomato say" in said
    assert "The ground has enough potassium, and the leaf is short all the same: look at pH (7.6)" in said
    assert "The sap is low in nitrate: 300 mg/L" in said
    assert "say when and what you picked" not in said
    bed.plantings.all().delete()
    assert "Leaves are judged for a crop" in page(grower, "slip_page", made.pk)
