"""A material chosen for a need, and the shed it is chosen from."""

from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping
from copy import copy
from dataclasses import replace
from typing import Any

from agronomy.base.record import record
from agronomy.base.working import Step
from agronomy.model.answers import Need
from agronomy.model.stock import StockLine
from agronomy.tables.material import Material


@record(kw_only=True)
class Choice:
    """A material for a need: product rates [kg/ha] with the need's band, what it supplies [kg/ha] and why it was taken."""

    need: Need
    material: Material
    rate_kg_per_ha: float
    low_kg_per_ha: float
    high_kg_per_ha: float
    supplies: dict[str, float]
    price_per_kg: float
    why: str
    working: tuple[Step, ...]

    def count_off(self, remaining: dict[str, float], share: float = 1.0) -> None:
        """Takes what a share of it brings off what is still needed [kg/ha]. Source: definition."""
        for nutrient, amount in self.supplies.items():
            if nutrient in remaining:
                remaining[nutrient] = max(0.0, remaining[nutrient] - amount * share)


def price_of(material: Material, line: StockLine | None) -> float:
    """What a kilogram costs: the user's own price before the list's. Source: invented-price, user-value.

    In money per kg.

    >>> from agronomy.intake.example import tables
    >>> price_of(tables.materials["urea"], None) == tables.materials["urea"].list_price_per_kg
    True
    """
    return material.list_price_per_kg if line is None or line.price_per_kg is None else line.price_per_kg


def price_beyond_stock(price_per_kg: float, total_kg: float, material: Material, line: StockLine | None) -> float:
    """The price [per kg] of so much [kg] where what stands in the shed is free and the rest is bought. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> price_beyond_stock(0.0, 100.0, tables.materials["urea"], None)
    0.0
    """
    if line is None or line.price_per_kg != 0 or total_kg <= line.in_stock_kg:
        return price_per_kg
    return material.list_price_per_kg * (1 - line.in_stock_kg / total_kg)


class Catalogue:
    """Materials in their order, and those of each role."""

    def __init__(self, materials: Iterable[Material]):
        self.materials = list(materials)
        by_role: dict[str, list[Material]] = defaultdict(list)
        for material in self.materials:
            for role in material.roles:
                by_role[role].append(material)
        self.by_role: Mapping[str, list[Material]] = dict(by_role)


class AvailableProducts:
    """The materials that may be used, with the user's prices and stock before the list's.

    `only` limits the catalogue to a list of keys. Materials marked as not chosen for you (caustic, bulky or regulated ones)
    come in only where `only` or `wanted` names them, or, but for caustic ones, where they stand in the shed. What is `wanted`
    goes before its equals wherever it fits, as stock does; what stands in `without` is left out whatever it costs. `in_shed` is what stands
    there and may be used up; `kept` holds the lists that were made before of the same `materials`; `by_equipment`: they are what
    the owner's equipment can lay.
    """

    def __init__(
        self,
        materials: Mapping[str, Material],
        only: tuple[str, ...] | None,
        shed: dict[str, StockLine],
        *,
        organic_only: bool,
        chloride: bool,
        area_m2: float = 0.0,
        enough: float = 1.0,
        wanted: tuple[str, ...] = (),
        without: tuple[str, ...] = (),
        kept: dict[tuple, Any] | None = None,
        by_equipment: bool = False,
    ):
        self.by_equipment = by_equipment
        self.shed, self.area_m2, self.enough, self.wanted = shed, area_m2, enough, frozenset(wanted)
        used_up = frozenset(key for key in shed if key in materials and self._may_use_up(materials[key]))
        hangs_on = ("catalogue", only, wanted, without, used_up, organic_only)
        catalogue = kept.get(hangs_on) if kept is not None else None
        if catalogue is None:
            named = materials.values() if only is None else [materials[key] for key in dict.fromkeys((*only, *wanted))]
            unasked = self.wanted | used_up
            catalogue = Catalogue(
                material
                for material in named
                if (only is not None or material.chosen_for_you or material.key in unasked)
                and (material.is_organic_allowed or not organic_only)
                and material.key not in without
            )
            if kept is not None:
                kept[hangs_on] = catalogue
        self.catalogue = catalogue
        self.in_shed = tuple(
            material
            for key in sorted(shed)
            if (material := materials.get(key)) is not None
            and self.in_stock(material)
            and (only is None or key in only or key in self.wanted)
            and (material.is_organic_allowed or not organic_only)
            and (not material.is_caustic or material.has_role("K"))  # ash is put on by hand as it always was; burnt lime is asked for
            and key not in without
        )
        self.chloride = chloride
        self.is_open = only is None and not wanted  # nobody has said which bags it shall be

    def _may_use_up(self, material: Material) -> bool:
        return self.in_stock(material) and not material.is_caustic

    def without_stock(self, used_kg: Mapping[str, float]) -> "AvailableProducts":
        """The same with less in the shed, by material [kg]: what is put on once is not there again."""
        left = copy(self)
        left.shed = {
            key: replace(line, in_stock_kg=max(0.0, line.in_stock_kg - used_kg[key])) if key in used_kg else line
            for key, line in self.shed.items()
        }
        return left

    def is_wanted(self, material: Material) -> bool:
        return material.key in self.wanted

    def goes_first(self, material: Material, rate_kg_per_ha: float) -> bool:
        """Whether it is taken before cheaper ones: it was asked for, or enough of it stands in the shed."""
        return self.is_wanted(material) or self.covers(material, rate_kg_per_ha)

    @property
    def materials(self) -> list[Material]:
        return self.catalogue.materials

    def narrow(self, serves: Callable[[Material], bool]) -> None:
        """Leaves only the materials that serve."""
        self.catalogue = Catalogue(material for material in self.materials if serves(material))

    def with_role(self, role: str) -> list[Material]:
        return self.catalogue.by_role.get(role, [])

    def price_per_kg(self, material: Material, rate_kg_per_ha: float = 0.0) -> float:
        """What a kilogram costs; of what is free no more than stands there, at this rate on the plot: the rest is bought at the list's."""
        line = self.shed.get(material.key)
        return price_beyond_stock(price_of(material, line), rate_kg_per_ha * self.area_m2 / 10_000, material, line)

    def covers(self, material: Material, rate_kg_per_ha: float) -> bool:
        """Whether what stands in the shed is (nearly) enough for the plot at this rate: a handful in a corner settles nothing."""
        line = self.shed.get(material.key)
        return line is not None and line.in_stock_kg > 0 and line.in_stock_kg >= self.enough * rate_kg_per_ha * self.area_m2 / 10_000

    def in_stock(self, material: Material) -> bool:
        line = self.shed.get(material.key)
        return line is not None and line.in_stock_kg > 0
