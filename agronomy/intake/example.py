"""A made-up bed, judged and planned, for the examples in docstrings."""

from datetime import date
from typing import Any

from agronomy.critic.fault import Facts
from agronomy.intake.request import read_request
from agronomy.model.answers import Need
from agronomy.model.request import Request
from agronomy.model.soil import Soil
from agronomy.plan.assess import Assessment, assess
from agronomy.plan.ground import ground_for
from agronomy.plan.needs import answers_by, situation_of
from agronomy.plan.plan import Plan, make_plan
from agronomy.plan.signing import facts_for_critic
from agronomy.products.choice import AvailableProducts
from agronomy.products.ground import Ground
from agronomy.products.shop import available_products
from agronomy.recommend.schools.situation import Situation
from agronomy.tables import load_tables
from agronomy.whatif.case import Case, case_for

TODAY = date(2027, 3, 1)
TEST = {"pH": 5.6, "P": 12, "K": 80, "Mg": 60, "Zn": 0.5}  # mg/kg by Mehlich 3; zinc by DTPA
METHODS = {"pH": "water 1:1", "Zn": "DTPA"}

tables = load_tables()


def bed(crop: str = "cabbage", test: dict[str, float] | None = None, **plot: Any) -> Request:
    """A request for a bed of 20 m2 of loam that was tested in spring; `test` and `plot` stand in for its own figures [mg/kg].

    >>> bed(area="1 ha").plot.area_m2
    10000.0
    """
    readings = [
        {"analyte": key, "value": value, "method": METHODS.get(key, "Mehlich 3"), "how": "lab", "taken": "2027-02-20"}
        for key, value in (TEST if test is None else test).items()
    ]
    usual = {"name": "Long bed", "kind": "bed", "area": "20 m2", "depth": "20 cm", "texture": "loam", "organic_matter_pct": 3}
    ground = {**usual, "hemisphere": "north", **plot}
    asked = {"key": crop, "planting": "2027-05-01"}
    return read_request({"today": str(TODAY), "units": "metric", "plot": ground, "readings": readings, "crop": asked}, tables)


def found(crop: str = "cabbage", test: dict[str, float] | None = None, **plot: Any) -> Assessment:
    """The same bed judged.

    >>> found().acidity.class_
    'too_acid'
    """
    return assess(bed(crop, test, **plot), tables)


def soil(**plot: Any) -> Soil:
    """The ground of the bed.

    >>> soil().texture
    'loam'
    """
    return found(**plot).soil


def needs(school: str = "sufficiency", **changed: Any) -> list[Need]:
    """What the bed needs [kg/ha].

    >>> [need.what for need in needs()][:3]
    ['CaCO3', 'P', 'K']
    """
    return answers_by(school, found(**changed), tables).needs()


def situation(**changed: Any) -> Situation:
    """The bed as a school looks at it.

    >>> situation().ph
    5.6
    """
    return situation_of(found(**changed), tables)


def plan(crop: str = "cabbage", test: dict[str, float] | None = None, **plot: Any) -> Plan:
    """The plan for the bed.

    >>> plan().applications[0].name
    'dolomitic ground limestone'
    """
    return make_plan(bed(crop, test, **plot), tables)


def facts() -> Facts:
    """What the critic is told of the bed.

    >>> facts().area_m2
    20.0
    """
    return facts_for_critic(found())


def shop() -> AvailableProducts:
    """All materials that ship, nothing in the shed.

    >>> shop().shed
    {}
    """
    return available_products(bed(), tables)


def ground() -> Ground:
    """The bed as those who choose its materials see it.

    >>> ground().is_field
    False
    """
    judged = found()
    return ground_for(judged, answers_by("sufficiency", judged, tables), tables)


def case() -> Case:
    """The bed made ready for the optimiser.

    >>> len(case().needs)
    4
    """
    return case_for(bed(), tables)
