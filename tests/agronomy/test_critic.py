"""The critic: no made ground gets a plan or a letter that it would not sign, and each of its checks catches what it is there for."""

import random
from collections.abc import Iterator
from dataclasses import replace
from datetime import date, timedelta

import pytest

from agronomy.base.said import Reader
from agronomy.critic.letter_faults import letter_faults
from agronomy.critic.plan_faults import faults_of
from agronomy.intake.request import read_request
from agronomy.model.answers import Because
from agronomy.plan.assess import assess
from agronomy.plan.criticised import criticised
from agronomy.plan.letter import letter
from agronomy.plan.plan import make_plan
from agronomy.plan.signing import facts_for_critic
from agronomy.recommend.schools.registry import SCHOOLS
from benchmarks.made_up import requests
from tests.helpers.requests import TABLES, document, reading

CROPS = sorted(TABLES.crops)
CLIMATES = sorted(TABLES.climate.climates)


def grounds(count: int, seed: int) -> Iterator[dict]:
    """Made grounds of many kinds: on any day, untested in part, standing or to be planted, with their climate, school and rules."""
    rng = random.Random(seed)  # noqa: S311 -- makes up grounds, guards no secret
    for made in requests(count, CROPS, seed):
        today = date(2026, 1, 1) + timedelta(days=rng.randrange(365))
        planting = rng.choice([None, today + timedelta(days=rng.randrange(240)), today - timedelta(days=rng.randrange(900))])
        climate = rng.choice([None, *CLIMATES])
        south = TABLES.climate.climates[climate].hemisphere == "south" if climate else rng.random() < 0.3
        kept = [row | {"taken": str(today - timedelta(days=rng.randrange(2500)))} for row in made["readings"] if rng.random() < 0.7]
        yield made | {
            "today": str(today),
            "readings": kept,
            "plot": made["plot"] | {"hemisphere": "south" if south else "north", "cover": rng.choice([None, None, None, "tunnel"])},
            "crop": made["crop"] | {"planting": planting and str(planting)},
            "climate": climate and {"key": climate},
            "school": rng.choice(list(SCHOOLS)),
            "units": rng.choice(["metric", "us", "uk"]),
            "allow": {"organic_only": rng.random() < 0.2},
        }


def test_no_plan_or_letter_of_300_made_grounds_has_a_fault():
    found = {}
    for number, made in enumerate(grounds(300, 26)):
        if faults := criticised(read_request(made, TABLES), TABLES):
            found[number, made["crop"]["key"]] = [(fault.id, fault.says) for fault in faults]
    assert not found


HUNGRY = document(
    reading("pH", 5.2),
    reading("P", 5, "mg/kg", "Olsen"),
    reading("K", 40, "mg/kg", "ammonium acetate"),
    crop="cabbage",
    texture="loam",
    area="100 m2",
)
ASKED = read_request(HUNGRY, TABLES)
PLAN, FACTS = make_plan(ASKED, TABLES), facts_for_critic(assess(ASKED, TABLES))
FIRST, *REST = PLAN.applications
NOT_LIME = next(item for item in PLAN.applications if item.what == "P")
PAST = FACTS.today - timedelta(days=3)


def _spoilt(item, **other):
    return replace(PLAN, applications=tuple(replace(item, **other) if one is item else one for one in PLAN.applications))


def _answered(nutrient: str, because: Because = Because.ENOUGH):
    return replace(PLAN, nothing=(*PLAN.nothing, replace(PLAN.nothing[0], nutrient=nutrient, because=because)))


SPOILT = {
    "date_behind": (_spoilt(FIRST, from_=PAST), {}),
    "date_backwards": (_spoilt(FIRST, to=FIRST.from_ - timedelta(days=1)), {}),
    "past_harvest": (PLAN, {"ends": FACTS.today}),
    "worked_in_after_planting": (_spoilt(NOT_LIME, placement="worked in to 20 cm"), {"stands": True, "planting": None}),
    "need_untold": (replace(PLAN, applications=(FIRST,), unmet=(), nothing=()), {}),
    "given_and_left_out": (_answered("P"), {}),
    "tested_called_untested": (_answered("P", Because.UNTESTED), {}),
    "class_twice": (replace(PLAN, findings=(*PLAN.findings, replace(PLAN.findings[0], class_="excess"))), {}),
    "total_too_large": (_spoilt(NOT_LIME, supplies={"P": 900.0}), {}),
    "total_wrong": (_spoilt(NOT_LIME, total_kg=NOT_LIME.total_kg * 3), {}),
    "stock_twice": (_spoilt(NOT_LIME, cost=0.0), {"free": {NOT_LIME.material: NOT_LIME.total_kg / 4}}),
    "headline_not_largest": (replace(PLAN, headline="Only nitrogen is wanted for cabbage."), {}),
}


def test_the_plan_itself_is_sound():
    assert faults_of(PLAN, FACTS) == ()
    assert PLAN.not_ready == ()


@pytest.mark.parametrize("check", SPOILT)
def test_a_spoilt_plan_is_caught_by_its_check(check):
    plan, facts = SPOILT[check]
    assert check in {fault.id for fault in faults_of(plan, replace(FACTS, **facts))}


def test_an_aim_that_the_lime_does_not_reach_is_caught_where_nothing_tells_of_it():
    acid = next(item for item in PLAN.findings if item.analyte == "pH")
    limes = tuple(replace(item, later=False) for item in PLAN.applications if item.what == "CaCO3")
    short = replace(PLAN, findings=(replace(acid, expected=acid.wanted[0] - 1),), applications=limes[:1], unmet=())
    assert "aim_not_reached" in {fault.id for fault in faults_of(short, FACTS)}


def _letter(plan=PLAN):
    return letter(plan, plot="Long bed", crop="cabbage", reader=Reader("metric", today=FACTS.today)).text


WRITTEN = {
    "letter_misses_material": (PLAN, _letter().replace(NOT_LIME.name, "something")),
    "letter_without_year": (_spoilt(FIRST, from_=FIRST.from_.replace(year=FIRST.from_.year + 3)), _letter()),
    "letter_contradicts": (PLAN, f"{_letter()}\nNot needed. Phosphorus: there is plenty."),
    "letter_misses_amount": (PLAN, _letter().replace(NOT_LIME.measure, "some")),
    "letter_misses_doubt": (replace(PLAN, doubts=("Phosphorus was read twice and the two differ.",)), _letter()),
    "letter_fragment": (PLAN, _letter() + "\nIt is spread and worked in with the."),
    "letter_long": (PLAN, _letter() + "\nword" * 450),
}


def test_the_letter_itself_is_sound():
    assert letter_faults(PLAN, FACTS, _letter()) == ()


@pytest.mark.parametrize("check", WRITTEN)
def test_a_spoilt_letter_is_caught_by_its_check(check):
    plan, text = WRITTEN[check]
    assert check in {fault.id for fault in letter_faults(plan, FACTS, text)}
