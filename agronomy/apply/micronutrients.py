"""Trace elements that are short: how they can be given, in which form at this pH, and how much at most."""

from agronomy.apply.tank import trace_share
from agronomy.base.errors import OutOfRange
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.nutrients import MicronutrientDose

WAYS = {"broadcast": say("broadcast, to build the soil"), "band": say("in a band beside the row"), "leaf": "on the leaves"}
ELEMENTS = ("Zn", "Mn", "Fe", "Cu", "B", "Mo")


@record(kw_only=True)
class MicronutrientRate:
    """One way of giving an element: element and product [kg/ha a time] with their range, product for the plot [kg a time], how often, how
    long it lasts.

    `strength_pct` instead of rates where a spray is told by its strength.
    """

    element: str
    way: str
    material: str
    name: str
    element_low: float
    element_high: float
    product_low: float
    product_high: float
    plot_kg: float
    strength_pct: float | None
    times: int
    lasts: str
    says: str
    working: tuple[Step, ...]


def holds_at(material: Material, ph: float, tables: Tables) -> bool:
    """Whether a chelate holds its metal at a pH; plain salts do as far as their own limit goes.

    Source: material-traits (Lindsay, Norvell).

    >>> from agronomy.intake.example import tables
    >>> holds_at(tables.materials["iron_eddha"], 8.0, tables)
    True
    """
    return (material.holds_from_ph or 0.0) <= ph <= (material.holds_to_ph or 14.0)


def micronutrient_ways(element: str, ph: float, area_m2: float, materials: dict[str, Material], tables: Tables) -> list[MicronutrientRate]:
    """Every way of giving one element at this pH, the usual dose being the lower end. Source: micro-rates (unsure).

    In the ground only what holds at this pH; iron and manganese, which ground fixes, are never broadcast. Raises OutOfRange for an
    element that is no trace.

    >>> from agronomy.intake.example import tables
    >>> len(micronutrient_ways("Zn", 6.0, 20, tables.materials, tables)) > 0
    True
    """
    if element not in ELEMENTS:
        raise OutOfRange("element", element, f"{element} is no trace element", f"use one of {', '.join(ELEMENTS)}")
    found = []
    for (analyte, way), row in tables.nutrients.micronutrient_doses.items():
        if analyte != element:
            continue
        forms = [materials[key] for key in row.forms if key in materials]
        fitting = [item for item in forms if way == "leaf" or holds_at(item, ph, tables)]
        if fitting:
            # of chelates that hold, the one that holds up to the lowest pH is the cheapest that serves
            form = min(fitting, key=lambda item: (item.holds_to_ph or 0.0, forms.index(item)))
            found.append(_dose(element, way, row, form, area_m2, tables))
    return found


def _dose(element: str, way: str, row: MicronutrientDose, form: Material, area_m2: float, tables: Tables) -> MicronutrientRate:
    share = trace_share(form, element, tables)
    by_strength = row.unit == "%"
    low, high = (0.0, 0.0) if by_strength else (row.low, row.high)
    step = Step(
        "product",
        "element / share",
        {"element": Figure(low, "kg/ha"), "share": Figure(share, "fraction")},
        Figure(low / share, "kg/ha"),
        row.source,
        row.where,
        form.name,
    )
    return MicronutrientRate(
        element=element,
        way=way,
        material=form.key,
        name=form.name,
        element_low=low,
        element_high=high,
        product_low=low / share,
        product_high=high / share,
        plot_kg=low / share * area_m2 / 10_000,
        strength_pct=row.high if by_strength else None,
        times=int(row.times),
        lasts=row.lasts,
        says=row.says,
        working=(step,),
    )


def boron_solution(kg_b_per_ha: float, area_m2: float, material: Material, tables: Tables) -> tuple[float, float, float]:
    """Boron for an area as it is safe to give: product [g], water to dissolve it in [L], litres to the square metre.

    Always dissolved, one litre to the square metre; raises OutOfRange above 3 kg/ha. Source: micro-rates.

    >>> from agronomy.intake.example import tables
    >>> [round(part, 1) for part in boron_solution(0.5, 20, tables.materials["borax"], tables)]
    [8.8, 20.0, 1.0]
    """
    if not 0 < kg_b_per_ha <= 3:
        raise OutOfRange("boron", kg_b_per_ha, f"{kg_b_per_ha:g} kg/ha of boron is outside what is safe", "never above 3 kg/ha in a year")
    return kg_b_per_ha / 10_000 * area_m2 / trace_share(material, "B", tables) * 1000, area_m2 * 1.0, 1.0
