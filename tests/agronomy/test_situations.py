"""Grounds worked by an adviser, and what must hold of every plan: stages, caps, the headline, the letter."""

import json
import re
import tomllib
from datetime import date
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from agronomy.intake.documents import plan_to_document
from agronomy.intake.request import read_request
from agronomy.plan.facts import KINDS, Fact
from agronomy.plan.letter import letter
from agronomy.plan.plan import make_plan
from tests.helpers.requests import TABLES, document, reading
from tests.helpers.situations import outside

GROUNDS = tomllib.loads((Path(__file__).parent / "grounds.toml").read_text(encoding="utf-8"))["ground"]
SITUATIONS = sorted((Path(__file__).parent / "situations").glob("*.json"))


def _plan(doc: dict):
    request = read_request(doc, TABLES)
    return make_plan(request, TABLES), request


@pytest.mark.parametrize("path", SITUATIONS, ids=lambda path: path.stem)
def test_an_adviser_could_sign_it(path):
    told = json.loads(path.read_text(encoding="utf-8"))
    made, request = _plan(told["request"])
    assert outside(told["expect"], plan_to_document(made)) == []
    text = letter(made, plot=request.plot.name, crop=request.crop.name).text
    assert len(text.split()) < 400
    assert not [
        number for number in re.findall(r"\d[\d.]*", re.sub(r"\b20\d\d\b", "", text)) if len(number.replace(".", "").strip("0")) > 4
    ]


@pytest.mark.parametrize("ground", GROUNDS, ids=lambda ground: ground["name"])
def test_a_ground_of_our_own_is_advised_as_it_was_expected_before_the_first_plan(ground):
    names = ("analyte", "value", "unit", "method", "taken")
    doc = {key: value for key, value in ground.items() if key not in ("name", "why", "expect", "readings")}
    doc["readings"] = [dict(zip(names, row, strict=True)) for row in ground["readings"]]
    made, _ = _plan(doc)
    assert outside(ground["expect"], plan_to_document(made)) == []
    assert made.not_ready == ()


CROPS = st.sampled_from(sorted(TABLES.crops))
TEXTURES = st.sampled_from(["sand", "sandy loam", "loam", "clay loam", "clay"])
AIMS = st.sampled_from(["rule", "money", "fewest"])
DAYS = st.dates(date(2026, 1, 15), date(2027, 12, 1))


@settings(max_examples=120, deadline=None)
@given(
    CROPS,
    TEXTURES,
    DAYS,
    st.floats(4.6, 8.2),
    st.floats(2, 60),
    st.floats(30, 400),
    st.booleans(),
    st.sampled_from(["rule", "money", "fewest"]),
)
def test_of_every_plan(crop, texture, today, ph, p, k, dug, aim):
    doc = document(
        reading("pH", round(ph, 1), taken=today.isoformat()),
        reading("P", round(p, 1), "mg/kg", "Olsen", taken=today.isoformat()),
        reading("K", round(k), "mg/kg", "ammonium acetate", taken=today.isoformat()),
        crop=crop,
        texture=texture,
        dug=dug,
    ) | {"today": today.isoformat(), "aim": aim}
    made, request = _plan(doc)
    limits, growth = TABLES.growing.limits[crop], TABLES.growing.crops[crop]
    light = texture in ("sand", "sandy loam")
    once, start = ("most_once_light", "most_at_start_light") if light else ("most_once_other", "most_at_start_other")
    most = max(getattr(limits, once), getattr(limits, start), 40)  # some crops are given nothing at once: a little still is a dressing
    for item in made.applications:
        if item.what == "N" and aim == "rule" and TABLES.materials[item.material].speed in ("soon", "weeks"):
            assert item.supplies["N"] <= 1.5 * most
        if item.what == "S_acid" and (growth.stands == "stands" and request.planting is None):
            assert item.supplies["S_acid"] <= 250 + 1e-6
        assert "worked in" not in item.placement or not (growth.stands == "stands" and request.planting is None)
    if made.headline.startswith("Nothing is needed"):
        judged = {finding.analyte for finding in made.findings}
        assert set(TABLES.growing.must_be_judged(crop, request.crop.group)) <= judged
        assert not made.applications
        assert not any(item.rate_kg_per_ha > 0 for item in made.unmet)
    assert made.headline
    assert len(letter(made, plot=request.plot.name, crop=request.crop.name).text.split()) < 400


def test_advice_hangs_on_facts_that_are():
    for row in TABLES.advice.advice:
        for word in (*row.when, *row.any, *row.unless):
            assert word in set(Fact) or word.partition(":")[0] in KINDS, (row.key, word)
            kind, _, key = word.partition(":")
            if kind == "crop":
                assert key in TABLES.crops, (row.key, word)
