"""A tank: product and water for an area, fills, order of mixing, strength on the leaf, conductivity, stock for a dosing pump."""

from math import ceil

from agronomy.base.errors import OutOfRange, check_range
from agronomy.base.record import record
from agronomy.base.said import Measure, large, say
from agronomy.products.compatibility import Clash, clashes, groups_of
from agronomy.tables import Tables
from agronomy.tables.material import Material

WAYS = {"leaf": "on the leaves", "drench": "as a drench", "drip": "through drip lines"}


@record
class Part:
    """A material in the tank and its rate [kg/ha]."""

    material: Material
    rate_kg_per_ha: float


@record
class Fill:
    """One fill: its water [L], the ground it covers [m2], and kilos of each part in their order."""

    litres: float
    area_m2: float
    kg: tuple[float, ...]


@record(kw_only=True)
class Tank:
    """A job with a tank. `full` and `last` are what goes in (the last may be smaller), `fills` how many there are in all.

    `strength_pct` is all salt by weight of the water, `ec_ds_per_m` with the water's own; `order` the steps of mixing; `wetter_ml` for a
    full tank.
    """

    way: str
    fills: int
    full: Fill
    last: Fill
    strength_pct: float
    ec_ds_per_m: float
    order: tuple[tuple[str, str], ...]
    clashes: tuple[Clash, ...]
    wetter_ml: float
    faults: tuple[str, ...]
    weather: tuple[str, ...]


def tank(
    parts: list[Part],
    way: str,
    tables: Tables,
    *,
    area_m2: float,
    water_l_per_ha: float,
    tank_l: float,
    water_ec: float = 0.3,
    tender: bool = True,
    with_acid: bool = False,
) -> Tank:
    """The fills for an area [m2] at so much water [L/ha] from a tank [L]. Source: definitions and tank-guide.

    Raises OutOfRange for an empty tank, no parts, or sizes that cannot be.
    """
    if not parts:
        raise OutOfRange("parts", None, "nothing is in the tank", "choose at least one material")
    check_range("area", area_m2, low=0.01, high=1e8, unit="m2")
    check_range("tank", tank_l, low=0.1, high=50_000, unit="L")
    check_range("water", water_l_per_ha, low=10, high=5e6, unit="L/ha")
    all_water = water_l_per_ha * area_m2 / 10_000
    fills = max(1, ceil(all_water / tank_l - 1e-9))
    full = _fill(parts, min(tank_l, all_water), water_l_per_ha)
    last_l = all_water - tank_l * (fills - 1)
    dissolved = sum(part.rate_kg_per_ha for part in parts) / water_l_per_ha
    found = tuple(item for item in clashes([part.material for part in parts], tables) if item.together in ("never", "not in one tank"))
    return Tank(
        way=way,
        fills=fills,
        full=full,
        last=_fill(parts, last_l, water_l_per_ha),
        strength_pct=100 * dissolved,
        ec_ds_per_m=water_ec + salts_ec([(part.material, part.rate_kg_per_ha / water_l_per_ha * 1e6) for part in parts], tables),
        order=_order(parts, way, with_acid, tables),
        clashes=found,
        wetter_ml=full.litres * 10 * tables.liquids.wetter_pct.value if way == "leaf" else 0.0,
        faults=_faults(parts, dissolved, water_l_per_ha, way, tender, tables),
        weather=tuple(row.says for row in tables.liquids.weather if row.way == way),
    )


def _fill(parts: list[Part], litres: float, water_l_per_ha: float) -> Fill:
    hectares = litres / water_l_per_ha
    return Fill(litres, hectares * 10_000, tuple(part.rate_kg_per_ha * hectares for part in parts))


def salts_ec(concentrations: list[tuple[Material, float]], tables: Tables) -> float:
    """Conductivity [dS/m] that dissolved salts [mg/L of product] add; urea, oils and extracts add none. Source: tds-ec (unsure).

    >>> from agronomy.intake.example import tables
    >>> round(salts_ec([(tables.materials["potassium_nitrate"], 500)], tables), 2)
    0.78
    """
    salts = sum(mg for material, mg in concentrations if not ({"urea"} & groups_of(material, tables)) and not material.has_role("tonic"))
    return salts / tables.liquids.mg_per_l_per_ds.value


def _order(parts: list[Part], way: str, with_acid: bool, tables: Tables) -> tuple[tuple[str, str], ...]:
    """Steps of mixing: what goes in, and why there."""
    left, steps = list(parts), []
    for row in tables.liquids.tank_order:
        groups = set(row.groups)
        if groups & {"water", "top"} or (groups == {"wetter"} and way == "leaf") or (groups == {"acid"} and with_acid):
            steps.append((row.what, row.why))
            continue
        fitting = [part for part in left if groups & groups_of(part.material, tables)] if groups != {"other"} else left
        fitting = sorted(fitting, key=lambda part: part.material.solubility_g_per_l or 1e9)
        left = [part for part in left if part not in fitting]
        steps += [(part.material.name, row.why) for part in fitting]
    return tuple(steps)


def _faults(parts: list[Part], dissolved: float, water_l_per_ha: float, way: str, tender: bool, tables: Tables) -> tuple[str, ...]:
    """What is too strong or will not dissolve."""
    figures, said = tables.liquids, []
    if way == "leaf":
        most = (figures.leaf_salt_tender_pct if tender else figures.leaf_salt_tough_pct).value
        if 100 * dissolved > most:
            said.append(
                say(
                    "{dissolved:.1f} % dissolved scorches leaves: at most {most:g} %. More water, or in two sprays.",
                    dissolved=100 * dissolved,
                    most=most,
                )
            )
        boron = sum(part.rate_kg_per_ha * _boron(part.material, tables) for part in parts) / water_l_per_ha * 1000
        if boron > figures.boron_g_per_l.value:
            said.append(
                say(
                    "{boron:.2f} of boron to the litre: at most {boron_g_per_l:g}.",
                    boron=Measure(boron, "g"),
                    boron_g_per_l=figures.boron_g_per_l.value,
                )
            )
    for part in parts:
        solubility = part.material.solubility_g_per_l
        strength = part.rate_kg_per_ha / water_l_per_ha * 1000
        if solubility is not None and strength > figures.stock_share.value * solubility:
            said.append(
                say(
                    "{material}: {strength:.0f} won't dissolve, {solubility:g} is the most at {20 °C}.",
                    material=large(part.material.name),
                    strength=Measure(strength, "g/L"),
                    solubility=Measure(solubility, "g/L"),
                )
            )
    return tuple(said)


def _boron(material: Material, tables: Tables) -> float:
    return trace_share(material, "B", tables)


def trace_share(material: Material, element: str, tables: Tables) -> float:
    """Share of a trace element in a material [fraction]. Source: material-typical.

    >>> from agronomy.intake.example import tables
    >>> trace_share(tables.materials["urea"], "Zn", tables)
    0.0
    """
    return material.micro_share(element)


def stock_g_per_l(mg_per_l: float, dilution: float, share: float) -> float:
    """Product in a stock solution [g/L] for a wanted strength [mg/L] at 1 : dilution, from a grade [fraction]. Source: definition.

    >>> stock_g_per_l(150, 100, 0.20)
    75.0
    """
    return (
        check_range("strength", mg_per_l, low=0, high=50_000)
        * check_range("dilution", dilution, low=1, high=2000)
        / (check_range("share", share, low=0.001, high=1) * 1000)
    )


def fed_kg_per_ha(mg_per_l: float, water_mm: float) -> float:
    """What a feed brings [kg/ha] with so much water [mm]. Source: definition.

    >>> fed_kg_per_ha(150, 12)
    18.0
    """
    return mg_per_l * water_mm * 0.01
