"""The drawing board and the map: shapes kept, cut, merged, undone; boundary files in and out; texture and crops."""

import io
import json

import pytest
from django.urls import reverse

from tests.helpers.holdings import plot, slip
from tests.helpers.pages import text_of
from web.changes.models import Change
from web.ground.models import OddSpot, Planting, Plot, WaterSource

FIELD = {"shape": "polygon", "points": "0 0\n200 0\n200 100\n0 100", "name": "Long field", "kind": "field"}


def act(client, what: str, **data):
    return client.post(reverse("ground:board_act", args=[what]), data)


def undo_last(client):
    return client.post(reverse("changes:undo", args=[Change.objects.first().pk]), {"next": "/ground/board/"})


@pytest.fixture
def field(grower, thornmere):
    act(grower, "draw", **FIELD)
    return Plot.objects.get(name="Long field")


def test_a_field_is_drawn_cut_into_zones_and_put_back(grower, field):
    assert field.area_m2 == 20_000
    assert field.west == 0
    assert field.north == 100
    Planting.objects.create(plot=field, crop="spring_barley")
    act(grower, "cut", plot=field.pk, points="100 -5\n100 105")
    zones = list(field.zones.order_by("name"))
    assert [zone.area_m2 for zone in zones] == [10_000, 10_000]
    assert {zone.planting.crop for zone in zones} == {"spring_barley"}
    page = text_of(grower.get(reverse("ground_page")))
    assert "2 plots" in page  # the field is told by its zones
    assert undo_last(grower).url == "/ground/board/"
    assert not field.zones.exists()


def test_zones_merge_and_their_readings_and_samples_survive_an_undo(grower, field):
    act(grower, "cut", plot=field.pk, points="100 -5\n100 105")
    first, second = field.zones.order_by("name")
    slip(second)
    act(grower, "merge", plot=first.pk, **{"with": [second.pk]})
    merged = field.zones.get()
    assert merged.area_m2 == pytest.approx(20_000, rel=1e-4)
    assert f"taken on {second.name}" in merged.slips.get().note
    undo_last(grower)
    assert {zone.slips.count() for zone in field.zones.all()} == {0, 1}


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("draw", {**FIELD, "points": "0 0\n10 10\n10 0\n0 10"}, "crosses itself"),
        ("draw", {**FIELD, "points": "0 zero"}, "is not a number"),
        ("draw", {**FIELD, "points": "1 2 3"}, "is not two numbers"),
        ("draw", {**FIELD, "name": ""}, "has no name"),
        ("draw", {**FIELD, "name": "Long Border 7"}, "of this name already"),
        ("draw", {**FIELD, "kind": "container"}, "does not tell how large"),
        ("draw", {"shape": "rectangle", "x": "1", "y": "1", "length": "-4", "width": "2", "name": "N", "kind": "bed"}, "is outside"),
        ("draw", {"shape": "", "name": "N", "kind": "bed"}, "no shape is drawn"),
        ("spot", {"x": "1", "y": "2", "radius": "0", "name": "gate"}, "radius"),
    ],
)
def test_what_cannot_be_drawn_is_said_and_what_was_typed_stays(grower, border, name, data, said):
    response = act(grower, name, **data)
    assert response.status_code == 422
    text = text_of(response)
    assert said in text.lower() or said in text
    assert Plot.objects.count() == 1
    assert not OddSpot.objects.exists()
    if data.get("points"):
        assert data["points"].split("\n")[0] in text


def test_shapes_are_typed_in_feet_where_the_reader_likes_feet(grower, thornmere):
    grower.post(reverse("people:units"), {"units": "us", "next": "/"})
    act(grower, "draw", shape="rectangle", x="0", y="0", length="100", width="10", turn="", name="Strip", kind="bed")
    assert Plot.objects.get().area_m2 == pytest.approx(92.903, abs=0.01)
    assert 'value="100"' in text_of(grower.get(reverse("ground:board") + f"?plot={Plot.objects.get().pk}"))


def test_the_board_measures_what_is_typed(grower):
    shown = grower.post(
        reverse("ground:board_measure"), {"shape": "rows", "x": "0", "y": "0", "length": "40", "count": "5", "spacing": "1,6", "turn": "0"}
    )
    assert "320 m²" in text_of(shown)
    assert "200.0 m of row" in text_of(shown)


def test_boundaries_go_out_and_come_back_in_degrees(grower, field, thornmere, client, stranger):
    document = json.loads(grower.get(reverse("ground:geojson")).content)
    assert document["coordinates_in"] == "local metres"
    lonlat = {
        "type": "Feature",
        "properties": {"name": "Far field"},
        "geometry": {"type": "Polygon", "coordinates": [[[12.0, 54.0], [12.002, 54.0], [12.002, 54.001], [12.0, 54.001], [12.0, 54.0]]]},
    }
    file = io.BytesIO(json.dumps({"type": "FeatureCollection", "features": [lonlat]}).encode())
    file.name = "far.geojson"
    assert grower.post(reverse("ground:boundaries"), {"file": file, "kind": "field"}).status_code == 302
    assert Plot.objects.get(name="Far field").area_m2 == pytest.approx(130.7 * 111.2, rel=0.01)
    thornmere.refresh_from_db()
    assert thornmere.origin == (12.001, 54.0005)
    assert grower.get(reverse("ground:shapefile")).content[:2] == b"PK"
    bad = io.BytesIO(b"PK\x03\x04 nothing")
    bad.name = "bad.zip"
    assert "broken" in text_of(grower.post(reverse("ground:boundaries"), {"file": bad, "kind": "field"}))


def test_texture_by_feel_by_percentages_and_the_fizz(grower, border):
    address = reverse("ground:texture", args=[border.pk])
    assert "It feels like" in text_of(grower.get(address + "?felt=1-1-0"))
    grower.post(address, {"felt": "1-1-2-"})
    border.refresh_from_db()
    assert border.texture == "loam"
    grower.post(address, {"sand": "60", "silt": "30", "clay": "10"})
    border.refresh_from_db()
    assert (border.texture, border.clay_pct) == ("sandy loam", 10)
    assert "add" in text_of(grower.post(address, {"sand": "60", "silt": "30", "clay": "40"}))
    grower.post(address, {"fizz": "strong"})
    border.refresh_from_db()
    assert border.free_lime == "yes"


def test_a_poor_follower_is_warned_of_and_new_ground_has_its_steps(grower, border):
    address = reverse("ground:crops", args=[border.pk])
    for planted, ended in (("2024-11-01", "2025-06-01"), ("2025-11-01", "")):
        assert grower.post(address, {"crop": "tulip", "planted_on": planted, "ended_on": ended}).status_code == 302
    page = text_of(grower.get(address))
    assert "both of the tulip family" in page
    assert grower.post(address, {"crop": "tulip", "planted_on": "2025-11-01", "ended_on": "2024-11-01"}).status_code == 422
    grower.post(reverse("ground:new_ground", args=[border.pk]), {"begin": "1"})
    grower.post(reverse("ground:new_ground", args=[border.pk]), {"step": "clear"})
    assert "Buried lines kill" in text_of(grower.get(address))
    border.refresh_from_db()
    assert list(border.new_ground_done) == ["clear"]
    assert "poor follower" in text_of(grower.get(reverse("ground:years")))


def test_kinds_ask_for_their_own_sizes_and_reckon_what_is_treated(grower, thornmere):
    fields = text_of(grower.post(reverse("ground:plot_fields"), {"kind": "container", "name": "Bay trees", "depth": "15 cm"}))
    assert "Volume of one" in fields
    assert "25 cm" in fields
    data = {"name": "Bay trees", "kind": "container", "count": "12", "volume": "45", "nominal": "on", "depth": "25 cm", "crop": "bay_tree"}
    assert grower.post(reverse("ground:new_plot"), data).status_code == 302
    made = Plot.objects.get()
    assert made.volume_l == pytest.approx(486)
    assert made.sizes["volume"] == "45 L"
    assert "This field is required" in text_of(grower.post(reverse("ground:new_plot"), data | {"name": "B", "volume": " "}))


def test_a_water_goes_and_comes_back_with_the_plots_it_is_given_to(grower, border, thornmere):
    grower.post(reverse("ground:waters"), {"name": "Tunnel butt", "kind": "rain"})
    butt = WaterSource.objects.get()
    border.water = butt
    border.save()
    grower.post(reverse("ground:delete_water", args=[butt.pk]))
    border.refresh_from_db()
    assert border.water is None
    undo_last(grower)
    border.refresh_from_db()
    assert border.water == butt


def test_many_plots_are_drawn_as_counts_and_few_one_by_one(grower, thornmere):
    for number in range(80):
        made = Plot(
            holding=thornmere,
            name=f"Bed {number}",
            area_m2=2,
            depth_cm=15,
            shape={"type": "rectangle", "x": number * 3.0, "y": 0.0, "length": 2.0, "width": 1.0},
        )
        made.west, made.south, made.east, made.north = number * 3.0, 0.0, number * 3.0 + 2, 1.0
        made.save()
    assert "map__cluster" in text_of(grower.get(reverse("ground_page")))
    near = text_of(grower.get(reverse("ground_page") + "?at=6,0.5&across=20"))
    assert "map__cluster" not in near
    assert "Bed 1: " in near


def test_summaries_follow_every_change(grower, border):
    def says():
        return text_of(grower.get(reverse("ground_page")))

    assert "too acid" in says()
    kept = border.slips.get()
    kept.lines.all().delete()
    assert "not tested yet" in says()
    quiet = plot(border.holding, "Quiet bed", crop="broad_beans", texture="loam")
    slip(quiet, [("pH", "6.6", "", "water 1:1")])
    assert "potassium were not tested" in says()
    slip(quiet, [("P", "48", "mg/kg", "Olsen"), *((key, "290", "mg/kg", "ammonium acetate") for key in ("K", "Mg"))])
    assert "nothing needed" in says()
