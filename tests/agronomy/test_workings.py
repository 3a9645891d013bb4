"""Workings cannot lie. tests/conftest.py reckons every step of the whole suite again; here the check itself is tried, and the source of
each coefficient.
"""

from dataclasses import replace

import pytest

from agronomy.base.working import Figure, Step
from agronomy.intake.request import read_request
from agronomy.plan.plan import make_plan
from benchmarks.made_up import requests
from tests.helpers.requests import TABLES
from tests.helpers.workings import fault_of

LAYER = {"depth": Figure(20.0, "cm"), "bulk density": Figure(1.3, "g/cm3")}

BAD = [
    (("layer", "depth × bulk density × 100", LAYER, Figure(2601.0)), "the working says 2601"),
    (("layer", "depth × bulk density × 0.044", LAYER, Figure(1.144)), "the figure 0.044 stands in the formula"),
    (("layer", "depth × weight", LAYER, Figure(26.0)), "names what is not among its inputs"),
    (("class", "the row from 5.5 on", LAYER, Figure("short")), "the figure 5.5 stands in"),
]


@pytest.mark.parametrize(("made", "said"), BAD)
def test_a_working_that_lies_is_caught(made, said):
    with pytest.raises(AssertionError, match=said):
        Step(*made, "definition")
    assert fault_of(Step("layer", "depth × bulk density × 100", LAYER, Figure(2600.0), "definition")) is None


def test_a_coefficient_that_changes_in_the_table_changes_in_the_working():
    figures = replace(TABLES.acidity, buffer_clay_per_pct=replace(TABLES.acidity.buffer_clay_per_pct, value=0.05))
    doc = requests(1, ["dahlia"], 3)[0] | {"readings": [{"analyte": "pH", "value": 5.2, "unit": "", "method": "water 1:1", "how": "lab"}]}
    steps = {}
    for tables in (TABLES, replace(TABLES, acidity=figures)):
        need = next(item for item in make_plan(read_request(doc, tables), tables).needs if item.what == "CaCO3")
        steps[tables.acidity.buffer_clay_per_pct.value] = next(step for step in need.working if step.name == "buffer capacity")
    assert {value: step.inputs["of clay"].value for value, step in steps.items()} == {0.044: 0.044, 0.05: 0.05}
    assert steps[0.05].result.value > steps[0.044].result.value


def test_every_coefficient_in_a_plan_names_a_known_source():
    for doc in requests(60, sorted(TABLES.crops), 5):
        plan = make_plan(read_request(doc, TABLES), TABLES)
        steps = [step for item in (*plan.needs, *plan.findings, *plan.applications, *plan.credits) for step in item.working]
        for step in (*steps, *plan.soil.working):
            for figure in step.inputs.values():
                assert all(key in TABLES.sources for key in figure.source.split(";") if key), step
