"""Plots: typed sizes, wrong input, undo."""

import pytest
from django.urls import reverse

from tests.helpers.holdings import slip
from tests.helpers.pages import text_of
from tests.web.test_large_files import work
from web.changes.models import Change
from web.ground.models import Plot
from web.planning.models import PlotSummary
from web.readings.models import LabResult

NEW = reverse("ground:new_plot")
GOOD = {
    "name": "Bed 🌱 9",
    "kind": "bed",
    "area": "200 sq ft",
    "depth": "6 in",
    "texture": "loam",
    "dug": "yes",
    "crop": "tomato",
    "planted_on": "2099-05-01",
    "free_lime": "",
    "yield_goal": "",
    "target_ph": "",
    "note": "",
}


def undo_latest(client):
    return client.post(reverse("changes:undo", args=[Change.objects.first().pk]), follow=True)


def test_sizes_are_typed_in_either_system_and_names_may_hold_anything(grower, thornmere):
    response = grower.post(NEW, GOOD, follow=True)
    made = Plot.objects.get()
    assert made.area_m2 == pytest.approx(18.58, abs=0.01)
    assert made.depth_cm == pytest.approx(15.24)
    assert "Bed 🌱 9" in text_of(response)
    assert made.planting.crop == "tomato"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"area": ""}, "This field is required"),
        ({"area": "-4 m2"}, "is outside"),
        ({"area": "18 m22"}, "no unit of area"),
        ({"area": "18 kg"}, "no unit of area"),
        ({"area": "8" * 10_000}, "at most 400 characters"),
        ({"depth": "3 km"}, "is outside 2 to 100 cm"),
        ({"crop": "triffid"}, "No crop here is called “triffid”"),
        ({"target_ph": "65"}, "is outside 3.5 to 8.5"),
        ({"name": "x" * 400}, "at most 120 characters"),
        ({"planted_on": "32 May"}, "Enter a valid date"),
        ({"yield_goal": "lots"}, "is not a number"),
        ({"texture": "mud"}, "Select a valid choice"),
    ],
)
def test_wrong_input_is_said_beside_the_field_and_the_rest_is_kept(grower, thornmere, change, said):
    response = grower.post(NEW, GOOD | change)
    text = text_of(response)
    assert response.status_code == 422
    assert said in text
    assert ("2099-05-01" if "planted_on" not in change else "6 in") in text
    assert not Plot.objects.exists()


def test_a_yield_goal_and_a_target_come_back_as_they_were_typed(grower, thornmere):
    grower.post(NEW, GOOD | {"crop": "spring_barley", "yield_goal": "6,5 t/ha", "target_ph": "6,4"})
    made = Plot.objects.get()
    assert (made.planting.yield_goal_t_per_ha, made.planting.target_ph) == (6.5, 6.4)
    form = text_of(grower.get(reverse("ground:edit_plot", args=[made.pk])))
    assert 'value="6.5 t/ha"' in form
    assert 'value="6.4"' in form
    slip(made)
    assert "by yield" in text_of(grower.get(reverse("planning:bench", args=[made.pk])))


def test_an_edit_can_be_undone(grower, border):
    grower.post(reverse("ground:edit_plot", args=[border.pk]), GOOD)
    assert Plot.objects.get().name == "Bed 🌱 9"
    assert "Undone" in text_of(undo_latest(grower))
    back = Plot.objects.get()
    assert (back.name, back.area_m2, back.planting.crop) == ("Long Border 7", 18.0, "dahlia")


def test_a_removed_plot_comes_back_with_its_readings_and_plans(grower, border):
    grower.post(reverse("planning:adopt", args=[border.pk]))
    grower.post(reverse("ground:delete_plot", args=[border.pk]))
    assert not Plot.objects.exists()
    undo_latest(grower)
    assert Plot.objects.get().adopted_plans.count() == 1
    assert LabResult.objects.count() == 4
    assert grower.get(reverse("planning:bench", args=[border.pk])).status_code == 200


def test_an_added_plot_can_be_undone_but_not_when_it_has_changed_since(grower, border):
    grower.post(NEW, GOOD)
    added = Change.objects.first()
    Plot.objects.filter(name="Bed 🌱 9").update(area_m2=99)
    assert "changed again since" in text_of(undo_latest(grower))
    Plot.objects.filter(name="Bed 🌱 9").update(area_m2=Plot.objects.get(name="Bed 🌱 9").area_m2)
    assert Plot.objects.count() == 2
    assert Change.objects.get(pk=added.pk).undone_at is None


def test_a_changed_slip_can_be_undone(grower, border):
    from tests.helpers.holdings import slip_data

    kept = border.slips.get()
    grower.post(reverse("readings:edit_slip", args=[kept.pk]), slip_data(border, ("pH", "6.9", "", "water 1:1")))
    assert [line.typed for line in kept.lines.all()] == ["6.9"]
    undo_latest(grower)
    assert [line.typed for line in border.slips.get().lines.all()] == ["5.7", "6.6", "118", "58"]


def test_lists_keep_their_number_of_queries(grower, thornmere, border, django_assert_num_queries):
    pages = [reverse(name) for name in ("ground_page", "readings:slips", "planning:plans", "planning:letters", "jobs:season")]
    pages += [reverse(name, args=[border.pk]) for name in ("planning:bench", "plot_readings")]
    for number in range(30):
        made = Plot.objects.create(holding=thornmere, name=f"Bed {number}", area_m2=9, depth_cm=15, texture="loam")
        made.plantings.create(crop="dahlia")
        slip(made)
    most_queries = (21, 16, 5, 17, 14, 20, 12, 10)
    for address, most in zip([pages[0], *pages], most_queries, strict=True):  # the first visit works the summaries out
        with django_assert_num_queries(most, exact=False):
            assert grower.get(address).status_code == 200


def _grid(*lines: dict, **more) -> dict:
    told = {f"line-{number}-{name}": value for number, line in enumerate(lines, 1) for name, value in line.items()}
    return {"lines": str(len(lines))} | told | more


def test_a_grid_makes_many_plots_at_once_or_none_and_says_where(grower, thornmere):
    address = reverse("ground:many")
    good = {"name": "Bed 1", "kind": "bed", "area": "1.2 x 15 m", "crop": "tomatoes", "texture": "loam", "planted_on": "2099-05-01"}
    wrong = {"name": "Bed 1", "kind": "bed", "area": "big", "crop": "physalis"}
    told = text_of(grower.post(address, _grid(good, wrong, {"name": "", "kind": "bed"})))
    for words in ("1 line can", "“Bed 1” is there already", "“big”", "which of these is it: tomato, pepper or aubergine?"):
        assert words in told
    assert not Plot.objects.exists()  # all or none
    grower.post(address, _grid(good, {"name": "Bed 2", "kind": "field", "area": "0.4 ha", "crop": "corn"}))
    first, second = Plot.objects.order_by("name")
    assert (first.area_m2, first.planting.crop, second.planting.crop) == (18.0, "tomato", "maize")
    line = {"name": "Bed 1b", "kind": "bed", "area": "20", "crop": "leek", "texture": ""}
    grower.post(address, _grid(line, plot=[first.pk], lines="0"))
    first.refresh_from_db()
    assert (first.name, first.area_m2, Plot.objects.get(pk=first.pk).planting.crop) == ("Bed 1b", 20.0, "leek")
    undo_latest(grower)
    assert Plot.objects.get(pk=first.pk).planting.crop == "tomato"


def test_a_label_for_each_plot_in_use_with_its_crop_and_a_code_that_opens_its_plan(grower, border):
    page = text_of(grower.get(reverse("plot_labels") + "?sheet=a4_21"))
    assert page.count("crispEdges") == Plot.objects.filter(holding=border.holding).count()
    assert border.name in page
    assert "dahlia" in page


@pytest.mark.django_db(transaction=True)
def test_what_a_page_has_no_time_for_is_worked_out_by_the_worker(grower, thornmere, border, monkeypatch, settings):
    settings.TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
    monkeypatch.setattr("web.planning.summaries.AT_ONCE", 2)
    monkeypatch.setattr("web.planning.summaries.A_TURN", 3)
    for number in range(6):
        Plot.objects.create(holding=thornmere, name=f"Bed {number}", area_m2=9, depth_cm=15, texture="loam")
    for _ in range(2):  # the second visit asks for nothing more
        grower.get(reverse("today"))
    assert PlotSummary.objects.count() < 7
    work()
    assert PlotSummary.objects.count() == 7
