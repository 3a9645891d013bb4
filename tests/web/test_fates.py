"""Nothing of the past is lost: every field of a plot and all that hangs on it has a rule for cut, merge and retire, and each rule holds."""

from datetime import date

import pytest
from django.db.models import ProtectedError
from django.urls import reverse
from django.utils import timezone

from agronomy.model.ground_facts import FACTS
from tests.helpers.holdings import plot, slip
from tests.helpers.pages import text_of
from web.changes.models import Change
from web.changes.undo import OfAnotherVersion, undo
from web.ground.models import NutrientCredit, Planting, Plot, WaterSource
from web.ground.plot_lifecycle import COPIED, FIELDS, KEPT, RELATED, fields_with
from web.jobs.models import Job
from web.overview.closing import close_holding
from web.people.models import Holding
from web.planning.models import AdoptedPlan, PlanProposal
from web.readings.models import KitRun, MeterSession
from web.records.models import LogEntry, Sighting
from web.sampling.models import Sample, SamplingRound
from web.sensors.models import Gateway, Probe
from web.trials.models import Trial

DESCRIBED = {
    "texture": "sandy loam",
    "sand_pct": 60.0,
    "clay_pct": 10.0,
    "mix": "",
    "dug": False,
    "free_lime": "no",
    "depth_cm": 17.0,
    "watering": "drip",
    "watering_mm": 250.0,
    "own_buffering": {"times": 1.2, "low": 0.9, "high": 1.6, "tests": 3},
    "own_pools": {"K": {"times": 1.2, "low": 0.9, "high": 1.6, "taken": 1.0, "tests": 3}},
    "livestock": "hens",
    "cover": "mulch",
    "new_ground_since": date(2025, 3, 1),
    "new_ground_done": {"clear": "2025-03-02"},
    "signs": ["colour_dark"],
    "note": "the old orchard",
    "school": "build_maintain",
    "aim": "money",
    "most_bags": 2,
    "lost_times": 3.0,
    "wanted": ["urea"],
    "without": ["wood_ash"],
    "uncounted": ["organic_matter"],
} | {name: (fact.low + fact.high) / 2 for name, fact in FACTS.items()}


def test_every_field_and_relation_of_a_plot_has_a_rule():
    assert {field.name for field in Plot._meta.concrete_fields} == set(FIELDS)
    assert {relation.get_accessor_name() for relation in Plot._meta.related_objects} == set(RELATED)
    assert set(DESCRIBED) == {name for name in fields_with(COPIED) if name not in ("holding", "water")}


@pytest.fixture
def strip(thornmere, grower):
    """A bed with every field filled and one of everything hanging on it, and a neighbour that touches it."""
    rectangle = {"type": "rectangle", "x": 0.0, "y": 0.0, "length": 20.0, "width": 10.0, "turn": 0}
    made = plot(
        thornmere,
        "Strip",
        area_m2=200.0,
        shape=rectangle,
        west=0,
        south=0,
        east=20,
        north=10,
        sizes={},
        water=WaterSource.objects.create(holding=thornmere, name="Well"),
        **{name: value for name, value in DESCRIBED.items() if name not in ("depth_cm", "texture")},
    )
    Plot.objects.filter(pk=made.pk).update(depth_cm=17.0)
    made.refresh_from_db()
    slip(made)
    plan = AdoptedPlan.objects.create(plot=made, rules_version="1", request={}, result={})
    PlanProposal.objects.create(plot=made, rules_version="1", request={}, result={})
    NutrientCredit.objects.create(plot=made, kind="legume", what="soybean")
    Probe.objects.create(
        gateway=Gateway.objects.create(holding=thornmere, name="Yard", token_sha256="0" * 64), key="a", name="a", quantity="ph", plot=made
    )
    round_ = SamplingRound.objects.create(holding=thornmere, name="Autumn", planned_on="2026-10-01")
    Sample.objects.create(round=round_, plot=made, code="3334", bottom_cm=15, cores_wanted=10)
    about = {"holding": thornmere, "plot": made, "material": "gypsum", "name": "gypsum"}
    days = {"from_day": "2026-10-01", "to_day": "2026-10-09", "what": "S", "kg": 1}
    done = Job.objects.create(**about, **days, plan=plan, state=Job.State.DONE)
    Job.objects.create(**about, **days, plan=plan)
    Job.objects.create(**about, **days)  # of a programme
    LogEntry.objects.create(**about, kg=1.5, job=done, done_on=date(2026, 10, 3))
    Sighting.objects.create(holding=about["holding"], plot=about["plot"], seen=["col_yellow"])
    KitRun.objects.create(holding=thornmere, plot=made, kit="lantern_strip", test="ph", step_began_at=timezone.now())
    MeterSession.objects.create(holding=thornmere, plot=made, method="water 1:1")
    asked = {"name": "Ash", "question": "Does ash serve?", "treatments": ["none", "ash"], "seed": 1, "measured": "yield", "worth": 1}
    Trial.objects.create(holding=thornmere, plot=made, begun_on="2026-04-01", **asked)
    assert {name for name, number in _count(made).items() if not number} <= {"zones", "earlier", "summary"}, (
        "hang one of the new kind on it"
    )
    plot(thornmere, "Neighbour", area_m2=200.0, shape=rectangle | {"y": 10.0}, west=0, south=10, east=20, north=20, sizes={})
    return made


def _count(of: Plot) -> dict[str, int]:
    """How many of each hang on a plot, retired ones of its zones and parts included."""
    found = {}
    for relation in Plot._meta.related_objects:
        found[relation.get_accessor_name()] = relation.related_model._base_manager.filter(**{relation.field.name: of}).count()
    return found


def act(client, name: str, **data):
    answer = client.post(reverse("ground:board_act", args=[name]), data)
    assert answer.status_code == 302, text_of(answer)[-2000:]


def test_a_cut_copies_what_describes_and_leaves_what_was_done(grower, strip):
    before = _count(strip)
    act(grower, "cut", plot=strip.pk, points="10 -5\n10 15")
    part = Plot.objects.get(name="Strip, part 2")
    strip.refresh_from_db()
    for name in fields_with(COPIED):
        assert getattr(part, name) == getattr(strip, name), name
    assert part.area_m2 == pytest.approx(100, rel=0.01)
    assert _count(strip) | {"summary": 0} == before | {"summary": 0}
    got = _count(part)
    assert {name for name, number in got.items() if number and name != "summary"} == {
        name for name, fate in RELATED.items() if fate.cut == COPIED
    }


def test_a_merge_retires_the_other_plot_with_what_was_done_on_it(grower, strip, thornmere):
    before, neighbour = _count(strip), Plot.objects.get(name="Neighbour")
    kept = {name: getattr(neighbour, name) for name, fate in FIELDS.items() if fate.merge == KEPT}
    act(grower, "merge", plot=neighbour.pk, **{"with": [strip.pk]})
    assert not Plot.objects.filter(pk=strip.pk).exists()
    retired = Plot.everything.get(pk=strip.pk)
    neighbour.refresh_from_db()
    assert (retired.retired_as, retired.became, retired.retired_on) == ("merged", neighbour, timezone.localdate())
    assert {name: getattr(neighbour, name) for name in kept} == kept
    left, got = _count(retired), _count(neighbour)
    for name, fate in RELATED.items():
        if name == "jobs":
            assert (left[name], got[name]) == (1, 2)  # the one that was done stays, the open ones go along
        elif fate.merge == "moves":
            assert (left[name], got[name] >= before[name]) == (0, True), name
        elif name != "summary":
            assert left[name] == before[name], name
    page = text_of(grower.get(reverse("ground:retired")))
    assert "1.5 kg of gypsum" in page
    assert "merged into another plot" in page
    assert "Strip (until" in text_of(grower.get(reverse("records:totals")))
    undo(Change.objects.first())
    assert _count(Plot.objects.get(pk=strip.pk)) | {"summary": 0} == before | {"summary": 0}


def test_a_plot_taken_out_keeps_its_log_and_drops_what_was_to_do(grower, strip):
    before = _count(strip)
    assert grower.post(reverse("ground:delete_plot", args=[strip.pk])).status_code == 302
    left = _count(Plot.everything.get(pk=strip.pk))
    assert {name: number for name, number in left.items() if name not in ("probes", "summary")} == {
        name: number for name, number in before.items() if name not in ("probes", "summary")
    }
    assert left["probes"] == 0
    assert sorted(strip.jobs.values_list("state", flat=True)) == ["done", "dropped", "dropped"]
    assert grower.get(reverse("planning:bench", args=[strip.pk])).status_code == 404
    plot(strip.holding, "Strip")  # the name is free again
    with pytest.raises(ProtectedError):
        strip.delete()


def test_a_holding_is_closed_with_all_that_it_has(strip, thornmere, stranger):
    close_holding(thornmere)
    assert not Plot.everything.exists()
    assert not LogEntry.objects.exists()
    assert Holding.objects.count() == 1


def test_a_change_kept_by_another_version_is_told_and_changes_nothing(grower, border):
    grower.post(reverse("ground:delete_plot", args=[border.pk]))
    change = Change.objects.first()
    for spoil in (
        {"schema": "0" * 16},
        {"schema": "", "before": [{"model": "ground.plot", "pk": 999, "fields": {"no_such_field": 1}}], "after": []},
    ):
        Change.objects.filter(pk=change.pk).update(undone_at=None, **spoil)
        with pytest.raises(OfAnotherVersion):
            undo(Change.objects.get(pk=change.pk))
        answer = grower.post(reverse("changes:undo", args=[change.pk]), follow=True)
        assert "kept by another version of the program" in text_of(answer)
    assert not Plot.objects.filter(pk=border.pk).exists()
    assert Planting.objects.filter(plot=border.pk).exists()
