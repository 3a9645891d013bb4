"""The desks: what is asked stands in the address, what comes out is the core's, what is wrong is told and kept."""

import pytest
from django.urls import reverse

from tests.helpers.holdings import plot, slip
from tests.helpers.pages import page, text_of
from web.desks.models import OwnBlend, SpreaderRun

TANK = {
    "material": ["epsom_salt", "urea"],
    "rate": ["6", "2"],
    "way": "leaf",
    "area": "900 m2",
    "water": "400",
    "tank": "15 L",
    "tender": "on",
}


def test_a_tank_is_filled_in_order_and_says_what_is_too_strong(grower, border):
    told = page(grower, "desks:tank", **TANK)
    assert "<b>3 fills</b>, each 15 L for 375 m²; the last 6 L for 150 m²" in told
    assert "225 g" in told
    assert told.index("Half of the water") < told.index("<b>Epsom salt</b>") < told.index("<b>Wetter</b>")
    assert "scorches leaves" not in told
    assert "scorches leaves" in page(grower, "desks:tank", **TANK | {"rate": ["30", "2"]})
    assert "gypsum falls out" in page(grower, "desks:tank", **TANK | {"material": ["epsom_salt", "calcium_nitrate"]})
    for wrong, says in (
        ({"rate": ["lots", "2"]}, "lots"),
        ({"rate": ["0", "2"]}, "above zero"),
        ({"material": ["gold", "urea"]}, "choose a material"),
        ({"tank": "0"}, "is outside"),
    ):
        refused = page(grower, "desks:tank", **TANK | wrong)
        assert says in refused
        assert 'value="2"' in refused  # what was typed stays
    drench = page(grower, "desks:tank", **TANK | {"way": "drench", "acid": "on"})
    assert "conductivity about" in drench
    assert "Acid, slowly and into the water" in drench


def test_acid_defers_to_trained_people_and_a_stock_is_reckoned(grower, border):
    water = {"alkalinity": "250", "ph": "7.8", "target": "6.2", "acid_kind": "citric", "volume": "100 L"}
    assert "<b>23.4 g</b> of citric acid crystals to 100 L" in page(grower, "desks:tank", **water)
    strong = page(grower, "desks:tank", **water | {"acid_kind": "sulfuric_93"})
    assert "for trained people" in strong
    assert "Acid into water, never water into acid" in strong
    assert "blend with rain water" in page(grower, "desks:tank", **water | {"alkalinity": "700"})
    assert "<b>75 g/L</b>" in page(grower, "desks:tank", strength="150", dilution="100", feed="npk_20_20_20")


RUN = {"spreader": "the barrow", "material": "urea", "setting": "4", "how": "walk", "swath": "8 m", "caught": "640 g", "distance": "20 m"}


def test_a_walk_gives_a_rate_which_is_kept_and_leads_to_the_next_setting(grower, border):
    address = reverse("desks:spreader")
    assert "<b>40 kg/ha</b>" in text_of(grower.post(address, RUN))
    assert not SpreaderRun.objects.exists()
    grower.post(address, RUN | {"keep": "1"})
    grower.post(address, RUN | {"setting": "6", "caught": "960 g", "keep": "1"})
    assert [round(run.rate_kg_per_ha) for run in SpreaderRun.objects.all()] == [40, 60]
    assert "<b>Setting 5.0</b>, between two measurements" in page(grower, "desks:spreader", of="the barrow|urea", rate="50 kg/ha")
    bucket = text_of(grower.post(address, RUN | {"how": "bucket", "swath": "12 m", "caught": "12.5 kg", "speed": "10"}))
    assert "<b>62.5 kg/ha</b>" in bucket
    grower.post(reverse("desks:drop_run", args=[SpreaderRun.objects.first().pk]))
    assert SpreaderRun.objects.count() == 1


def test_trays_are_drawn_with_the_widest_bout_that_is_even(grower, border):
    trays = {"how": "trays", "trays": "5 20 40 50 40 20 5", "spacing": "50 cm", "there_and_back": "on"}
    told = text_of(grower.post(reverse("desks:spreader"), RUN | trays))
    assert "widest that serves" in told
    assert "One pass caught 5, 20, 40" in told
    for wrong, says in (({"trays": "5 many 4"}, "many"), ({"trays": "5 6"}, "hree trays"), ({"spacing": ""}, "needed for that way")):
        answer = grower.post(reverse("desks:spreader"), RUN | trays | wrong)
        assert answer.status_code == 422
        assert says in text_of(answer)


BLEND = {
    "material": ["blood_meal", "bone_meal_steamed", "kelp_meal"],
    "parts": ["2", "3", "1"],
    "by": "scoop",
    "bin": "20 L",
    "plant": "1",
    "bought": "npk_7_7_7",
}


def test_a_blend_by_scoop_is_told_by_weight_kept_and_labelled(grower, border):
    told = page(grower, "desks:blends", **BLEND)
    assert "<b>5.2-8.5-0.3</b>" in told
    assert "for a plant that should get 1 g" in told
    assert page(grower, "desks:blends", **BLEND | {"by": "weight"}) != told
    assert "A kilogram of nutrients in it costs" in told
    assert grower.post(reverse("desks:blends"), BLEND).status_code == 422  # no name
    grower.post(reverse("desks:blends"), BLEND | {"name": "Breakfast"})
    kept = OwnBlend.objects.get()
    label = page(grower, "desks:blend", kept.pk)
    assert "use by" in label
    assert "2 parts by scoops" in label
    grower.post(reverse("desks:blends"), BLEND | {"name": "Breakfast", "parts": ["1", "1", "1"]})
    assert OwnBlend.objects.get().parts[0] == ["blood_meal", 1.0]
    assert "give off" in page(grower, "desks:blends", **BLEND | {"material": ["urea", "wood_ash", "kelp_meal"]}).replace(
        "is given off", "give off"
    )
    assert "two parts or more" in page(grower, "desks:blends", **BLEND | {"material": ["urea"], "parts": ["1"]})
    kept.parts = [["gone", 1], ["urea", 1]]
    kept.save()
    assert grower.get(reverse("desks:blend", args=[kept.pk])).status_code == 404


def test_bales_are_started_by_any_source(grower, border, thornmere):
    told = page(grower, "desks:bales", bales="8", feed="urea", of="straw", weight="18 kg", start="2027-04-20")
    assert "<b>2.77 kg</b> of urea" in told
    assert "3 May" in told
    assert "weed killer" in told
    assert "8 May" in page(grower, "desks:bales", bales="8", feed="feather_meal", of="hay", start="2027-04-20")
    assert "is outside" in page(grower, "desks:bales", bales="0", feed="urea", of="straw")
    thornmere.organic_only = True
    thornmere.save()
    assert "Select a valid choice" in page(grower, "desks:bales", bales="8", feed="urea", of="straw")


def test_a_plots_doses_are_measured_out_and_its_rows_guarded(grower, border):
    told = page(grower, "desks:measures", border.pk, row="50 cm", plant="30 cm", stride="70 cm", place="seed")
    for words in (
        "square metre",
        "metre of row",
        "stride along the row",
        "plant or planting hole",
        "Rounding is off by",
        "Never with the seed",
    ):
        assert words in told
    assert "is outside" in page(grower, "desks:measures", border.pk, row="-4")
    pots = plot(border.holding, "Bay trees", kind="container", sizes={"count": "12", "volume": "45 L"}, volume_l=540, area_m2=2.2)
    assert "A crop and one reading are needed" in page(grower, "desks:measures", pots.pk) or "pot" in page(
        grower, "desks:measures", pots.pk
    )


def test_manure_is_held_back_by_phosphate_and_waits_before_harvest(grower, border, thornmere):
    told = page(grower, "desks:manure", border.pk, manure="horse_manure", worked_in="one_day", phosphate="need")
    assert "phosphate need sets it to nothing" in told
    freely = page(grower, "desks:manure", border.pk, manure="cattle_manure", worked_in="one_day", phosphate="any")
    for words in ("Set by <b>nitrogen need</b>", "year 3", "goes off as ammonia", "120 days", "sow beans"):
        assert words in freely
    assert "is outside" in page(
        grower, "desks:manure", border.pk, manure="cattle_manure", worked_in="one_day", phosphate="any", ammonium="900"
    )


def test_traces_are_told_only_where_short_and_in_a_form_that_holds(grower, thornmere):
    bed = plot(thornmere, "Limy bed", crop="maize")
    slip(bed, [("pH", "7.6", "", "water 1:1"), ("Zn", "0.2", "mg/kg", "DTPA"), ("B", "0.2", "mg/kg", "hot water")])
    told = page(grower, "desks:traces", bed.pk)
    assert "Short by test: <b>zinc" in told
    boron = page(grower, "desks:traces", bed.pk, element="B")
    assert "sprinkle it evenly over the whole plot" in boron
    assert "Put none on" in page(grower, "desks:traces", bed.pk, element="Fe")
    assert "EDDHA" in page(grower, "desks:traces", bed.pk, element="Fe")


@pytest.mark.parametrize("name", ["desks:desks", "desks:tank", "desks:spreader", "desks:blends", "desks:bales"])
def test_a_desk_without_anything_typed_says_what_it_waits_for(grower, border, name):
    assert "Traceback" not in page(grower, name)


def test_ways_to_move_ph_by_speed_warmth_and_free_lime(grower, border, thornmere):
    told = page(grower, "desks:acidity", border.pk, warmth="15", months="1")
    assert "Limes for the same need" in told
    assert "too slow" in told
    assert "caustic" in told
    tea = plot(thornmere, "Tea", crop="tea")
    slip(tea, [("pH", "6.4", "", "water 1:1")])
    warm, cold = (page(grower, "desks:acidity", tea.pk, warmth=warmth, alkalinity="200", water="450") for warmth in ("25", "4"))
    assert "at most 25 g/m² at a time" in warm
    assert "hard on roots" in warm
    assert "29 g/m²</b> of sulfur a year" in warm
    assert cold.count("<td>0 %</td>") >= 6
    limy = plot(thornmere, "Limy tea", crop="tea", free_lime="yes")
    slip(limy, [("pH", "7.9", "", "water 1:1")])
    assert "a form that holds at this pH" in page(grower, "desks:acidity", limy.pk)
    right = plot(thornmere, "Right", crop="dahlia")
    slip(right, [("pH", "6.6", "", "water 1:1")])
    assert "Leave pH alone" in page(grower, "desks:acidity", right.pk)


def test_a_lime_is_scored_by_its_sieves(grower, border):
    told = page(grower, "desks:sieves", cce="92", moisture="4", scheme="TRI", mesh_8="95", mesh_20="70", mesh_60="50")
    assert "<b>59 %</b> effective" in told
    assert "is missing" in page(grower, "desks:sieves", cce="92", scheme="KY", mesh_10="92")


def test_every_material_has_a_page_of_its_own(grower, border):
    from web.core import tables

    for key in tables().materials:
        assert tables().materials[key].name.lower() in page(grower, "planning:material", key).lower()
    assert "gets no credit" in page(grower, "planning:material", "seaweed_extract")
    assert "year 3" in page(grower, "planning:material", "cattle_manure")
    assert grower.get(reverse("planning:material", args=["unobtainium"])).status_code == 404


def test_nitrogen_over_the_weeks_is_drawn_and_sags_are_named(grower, border, thornmere):
    told = page(grower, "desks:release", border.pk)
    assert "Nitrogen in kg/ha: by" in told
    assert "taken as 15 °C" in told
    thornmere.climate = "larch_heights"
    thornmere.organic_only = True
    thornmere.save()
    organic = page(grower, "desks:release", border.pk)
    assert "Larch Heights" in organic
    assert "It keeps up with the crop" in told
    assert organic != told


def test_a_yellowing_plant_is_followed_to_a_test_and_a_pair_of_samples(grower, border):
    first = page(grower, "desks:ailing", plot=border.pk)
    assert "Which leaves show it first?" in first
    told = page(grower, "desks:ailing", plot=border.pk, yes=["age_old", "pat_herring", "col_yellow", "time_fruit"], no=["fruit_end_rot"])
    assert "magnesium" in told
    assert "To be sure" in told
    assert "Take samples from a" in told
    assert "soil K very low" in told  # what the plot's own readings say
    assert "Take back: youngest" not in told
    assert "Not: " in told
    assert grower.get(reverse("desks:ailing"), {"yes": ["nonsense"], "plot": "x"}).status_code == 200
