"""A plan that the critic would not sign says so wherever it is shown, and is adopted by nobody in silence."""

import pytest
from django.core.cache import cache
from django.urls import reverse

from agronomy.critic.fault import Fault
from tests.helpers.pages import text_of
from web.planning.models import AdoptedPlan

SAYS = "Urea would be worked in where plants already stand."


@pytest.fixture
def faulty(monkeypatch):
    cache.clear()  # pages of sound plans
    monkeypatch.setattr("agronomy.plan.plan.faults_of", lambda plan, facts: (Fault("worked_in_after_planting", SAYS),))


@pytest.mark.usefixtures("faulty")
def test_a_faulty_plan_is_shown_so_and_adopted_only_knowingly(grower, border):
    page = text_of(grower.get(reverse("planning:bench", args=[border.pk])))
    assert "Not ready to sign:" in page
    assert SAYS in page
    asked = grower.post(reverse("planning:adopt", args=[border.pk]))
    assert asked.status_code == 409
    assert SAYS in text_of(asked)
    assert "Nothing is changed yet" in text_of(asked)
    assert not AdoptedPlan.objects.exists()
    kept = grower.post(reverse("planning:adopt", args=[border.pk]), {"knowing": "yes"}, follow=True)
    assert AdoptedPlan.objects.count() == 1
    assert SAYS in text_of(kept)


@pytest.mark.usefixtures("faulty")
def test_many_at_once_leave_it_out_and_name_it(grower, border):
    told = text_of(grower.post(reverse("planning:adopt_many"), {"plot": [border.pk]}, follow=True))
    assert f"Not adopted, because they are not ready to sign: {border.name}" in told
    assert "were adopted" not in told
    assert not AdoptedPlan.objects.exists()


def test_a_sound_plan_has_no_such_word(grower, border):
    assert "Not ready to sign" not in text_of(grower.get(reverse("planning:bench", args=[border.pk])))
