"""Queries whose SQL is written once give what their query sets give, for these numbers and for others."""

import pytest
from django.db.models import Count

from web.ground import selectors as ground
from web.ground.models import Plot
from web.jobs import ahead
from web.overview import ground_page
from web.planning import requests, summaries
from web.plans import views
from web.prepared import CannotBePrepared, Prepared, hanging_on
from web.readings import selectors as readings
from web.supplies import stock

ROOMS = (ground, ahead, ground_page, requests, summaries, views, readings, stock)
BOX = (-500.0, -500.0, 500.0, 500.0)


def prepared() -> list[Prepared]:
    return [query for room in ROOMS for query in vars(room).values() if isinstance(query, Prepared)]


def numbers_for(query: Prepared, holding: int, plot: int, water: int) -> tuple[float, ...]:
    """The numbers that a query asks for, by the names of its arguments."""
    code = query._query.__code__
    known = {"holding": holding, "plot": plot, "pk": plot, "water": water}
    more = () if code.co_flags & 0x04 == 0 else BOX if "box" in code.co_varnames else (plot, plot + 1, 7)
    return (*(known[name] for name in code.co_varnames[: code.co_argcount]), *more)


def plain(rows: list) -> list:
    return [
        (type(row), {name: value for name, value in vars(row).items() if name != "_state"}) if hasattr(row, "pk") else row for row in rows
    ]


@pytest.mark.parametrize("nothing_there", [False, True])
def test_what_is_prepared_is_what_the_query_set_gives(objects, border, nothing_there):
    found = 0
    for query in prepared():
        numbers = numbers_for(query, border.holding_id, border.pk, objects.get("water", 1))
        asked = tuple(9_999_999 for _ in numbers) if nothing_there else numbers
        query(*(1 for _ in numbers))  # written for other numbers than it is asked with
        assert plain(query(*asked)) == plain(list(query._query(*asked)))
        found += len(query(*asked))
    assert (found == 0) == nothing_there
    assert len(prepared()) > 12


WRONG = {
    "a number that becomes a limit": lambda plot: Plot.objects.order_by("pk")[:plot],
    "a number that is worked with": lambda plot: Plot.objects.filter(pk=plot + 1),
    "a number that decides": lambda plot: Plot.objects.filter(pk=plot) if plot > 10**9 else Plot.objects.all(),
    "a number that is left out": lambda plot: Plot.objects.filter(area_m2__gt=min(plot, 5)),
    "what hangs on it": lambda plot: Plot.objects.filter(pk=plot).select_related("holding"),
    "what is fetched beside": lambda plot: Plot.objects.filter(pk=plot).prefetch_related("plantings"),
    "rows by name": lambda plot: Plot.objects.filter(pk=plot).values("pk", "name"),
    "one value each": lambda plot: Plot.objects.filter(pk=plot).values_list("pk", flat=True),
    "named rows": lambda plot: Plot.objects.filter(pk=plot).values_list("pk", "name", named=True),
    "a count beside the columns": lambda plot: Plot.objects.filter(pk=plot).annotate(many=Count("plantings")),
    "no query set": lambda plot: list(Plot.objects.filter(pk=plot)),
}


@pytest.mark.parametrize("shape", WRONG)
def test_what_cannot_be_held_is_refused_at_its_first_use(border, shape):
    with pytest.raises(CannotBePrepared):
        Prepared(WRONG[shape])(border.pk)


def test_a_number_that_no_database_holds_finds_nothing(border):
    assert ground._PLOT(border.holding_id, 2**63) == ground._PLOT(-(2**80), border.pk) == []


def test_what_was_fetched_before_is_not_asked_again(border, django_assert_num_queries):
    border._prefetched_objects_cache = {"log": []}
    with django_assert_num_queries(0):
        assert hanging_on(border, "log", requests._LOG) == []
    with django_assert_num_queries(1):
        assert hanging_on(border, "gifts", requests._GIFTS) == []
