"""Bags for many plots are chosen by the worker: with progress, stopped, and what was shown is what is put on the plots."""

import time

import pytest
from django.core.cache import caches
from django.urls import reverse

from agronomy.whatif.holding import choose_for_holding
from tests.helpers.pages import text_of
from tests.web.test_large_files import work
from web.bags import bag_search
from web.ground.models import Plot
from web.jobs.models import Job

PAGE, USE, STOP = (reverse(f"planning:{name}") for name in ("holding_bags", "use_holding_bags", "stop_holding_bags"))


@pytest.fixture(autouse=True)
def by_the_worker(monkeypatch, settings):
    monkeypatch.setattr(bag_search, "AT_ONCE", 0)
    settings.TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
    caches["by_worker"].clear()


@pytest.mark.django_db(transaction=True)
def test_what_the_worker_chose_is_shown_and_put_on_the_plots(grower, border, monkeypatch):
    waiting = text_of(grower.get(PAGE))
    assert "Looking at plot 1 of" in waiting
    assert grower.post(USE, {"aim": "money"}).url.startswith(PAGE)  # nobody has seen a choice yet
    work()
    page = text_of(grower.get(PAGE))
    assert "Plot by plot" in page
    monkeypatch.setattr(bag_search, "choose_for_holding", None)  # from here on nothing is chosen anew
    grower.post(USE, {"aim": "money"})
    assert Plot.objects.get(pk=border.pk).wanted
    changed = grower.post(USE, {"aim": "money"}, follow=True)  # the plots ask for other bags now
    assert "Something has changed since" in text_of(changed)
    assert "Looking at plot" in text_of(changed)


@pytest.mark.django_db(transaction=True)
def test_it_can_be_stopped_before_and_while_it_is_done(grower, border, monkeypatch):
    grower.get(PAGE)
    grower.post(STOP, {"aim": "money"})
    work()
    assert "Looking at plot" in text_of(grower.get(PAGE))  # begun again

    def stopped_meanwhile(cases, *args, **kwargs):
        grower.post(STOP, {"aim": "money"})
        return choose_for_holding(cases, *args, **kwargs)

    monkeypatch.setattr(bag_search, "choose_for_holding", stopped_meanwhile)
    work()
    assert "Plot by plot" not in text_of(grower.get(PAGE))


@pytest.mark.django_db(transaction=True)
def test_where_no_worker_comes_the_page_chooses(grower, border, monkeypatch):
    assert "Looking at plot" in text_of(grower.get(PAGE))
    later = time.time() + bag_search.WAITS_S + 1
    monkeypatch.setattr(bag_search.time, "time", lambda: later)
    assert "Plot by plot" in text_of(grower.get(PAGE))
    grower.post(reverse("desks:holding_means"), {"aim": "money"})
    assert Job.objects.filter(plot=border).exists()
