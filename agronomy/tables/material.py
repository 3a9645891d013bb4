"""A material that can be spread: what is in it, how it acts, what it costs and how it can hurt."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Annotated, Literal

from agronomy.tables.columns import Key, Names, Parted, Within, Words
from agronomy.tables.row import Cited, Fault, rising

P_IN_P2O5 = 1 / 2.2914
K_IN_K2O = 1 / 1.2046
MG_IN_MGO = 0.603
CONTENTS = ("n", "p2o5", "k2o", "ca", "mg", "s")
ROLES = frozenset(
    {"lime", "acidifier", "acid", "N", "P", "K", "Ca", "Mg", "S", "Zn", "Mn", "Fe", "Cu", "B", "Mo", "organic", "tonic", "conditioner"}
)
MICRONUTRIENTS = frozenset({"Zn", "Mn", "Fe", "Cu", "B", "Mo"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Material(Cited):
    """One row of `data/materials.csv`. Contents in % by weight of the product; n, p2o5, k2o as on a label.

    cce is kg CaCO3 that 100 kg neutralises (acid-forming: negative); fineness is the share that reacts in a season or so;
    available_n and available_p are the shares a crop can use in the first year; micro holds "B:11.3" for 11.3 % of boron.
    `share` is worked out: usable element per kg of product [fraction].
    """

    key: Key
    name: str
    roles: Words
    n: Annotated[float, Within(0, 60, "%")]
    p2o5: Annotated[float, Within(0, 75, "%")]
    k2o: Annotated[float, Within(0, 65, "%")]
    ca: Annotated[float, Within(0, 72, "%")]
    mg: Annotated[float, Within(0, 61, "%")]
    s: Annotated[float, Within(0, 100, "%")]
    cce: Annotated[float, Within(-330, 180, "kg CaCO3/100 kg")]
    fineness: Annotated[float | None, Within(0.02, 1, "fraction")]
    density_g_per_ml: Annotated[float, Within(0.05, 3, "g/mL")]
    chloride_pct: Annotated[float, Within(0, 65, "%")]
    speed: Literal["soon", "weeks", "months", "seasons", "years"]
    rule: Literal["natural", "mined", "restricted", "synthetic"]
    available_n: Annotated[float, Within(0, 1, "fraction")]
    available_p: Annotated[float, Within(0, 1, "fraction")]
    ph_max: Annotated[float | None, Within(4.5, 8.5, "pH")]
    bag_kg: Annotated[float, Within(0.1, 1500, "kg")]
    list_price_per_kg: Annotated[float, Within(0, 150, "money/kg")]
    cautions: Annotated[tuple[str, ...], Parted(), Names("cautions")]
    chosen_for_you: bool
    spoons: bool
    loses_ammonia: bool
    form: Literal["bulk", "granules", "liquid", "meal", "powder"]
    salt_index: Annotated[float | None, Within(0, 160, "sodium nitrate = 100")]
    solubility_g_per_l: Annotated[float | None, Within(0.1, 3000, "g/L")]
    hygroscopic: Literal["low", "medium", "high"]
    n_form: Annotated[str | None, Names("nitrogen_forms")]
    micro: Words
    holds_from_ph: Annotated[float | None, Within(2, 8, "pH")]
    holds_to_ph: Annotated[float | None, Within(5, 12, "pH")]
    groups: Words
    release_class: Annotated[str | None, Names("release_classes")]
    raw_manure: bool
    never_raw_on_food: bool
    may_carry_weed_killer: bool
    salty_compost: bool
    gives_off_gas: bool
    never_with_seed: str | None
    traits_source: Annotated[str, Names("sources")]
    traits_where: str
    traits_status: Literal["exact", "recalled", "unsure"]
    share: dict[str, float] = field(init=False, metadata={"column": False})

    def __post_init__(self) -> None:
        object.__setattr__(self, "share", usable_shares(self))

    def faults(self) -> Iterator[Fault]:
        whole = sum(getattr(self, name) for name in CONTENTS)
        if whole > 100:
            yield Fault("n", f"the contents add to {whole:g} %, more than the whole", "check the decimal points")
        for role in self.roles:
            if role not in ROLES:
                yield Fault("roles", f"“{role}” is no role", f"use {', '.join(sorted(ROLES))}")
        for word in self.micro:
            element, _, pct = word.partition(":")
            if element not in MICRONUTRIENTS or not pct.replace(".", "", 1).isdigit() or not 0 < float(pct) <= 100:
                yield Fault("micro", f"“{word}” is no micronutrient with its share", "write it as B:11.3")
        if self.has_role("lime") and self.fineness is None:
            yield Fault("fineness", "a lime wants the share of it that reacts", "give it as a fraction")
        if self.never_raw_on_food and not self.raw_manure:
            yield Fault("raw_manure", "what is never raw on food is raw manure", "write yes")
        yield from rising(self, "holds_from_ph", "holds_to_ph")

    def has_role(self, role: str) -> bool:
        return role in self.roles

    @property
    def is_organic_allowed(self) -> bool:
        return self.rule in ("natural", "mined")

    @property
    def is_caustic(self) -> bool:
        return "caustic_lime" in self.cautions

    @property
    def effective_neutralising_value(self) -> float:
        """CaCO3 that one kg of product gives in time, as a fraction: neutralising value x fineness."""
        return self.cce / 100 * (self.fineness or 0.0)

    def micro_share(self, element: str) -> float:
        """Share of a micronutrient in the product [fraction]; nought where it holds none."""
        return next((float(word.partition(":")[2]) / 100 for word in self.micro if word.partition(":")[0] == element), 0.0)


def usable_shares(material: Material) -> dict[str, float]:
    """Usable element per kg of product [fraction], first year. Source: definition."""
    shares = {
        "N": material.n / 100 * material.available_n,
        "P": material.p2o5 / 100 * P_IN_P2O5 * material.available_p,
        "K": material.k2o / 100 * K_IN_K2O,
        "Ca": material.ca / 100,
        "Mg": material.mg / 100,
        "S": material.s / 100,
    }
    return {nutrient: share for nutrient, share in shares.items() if share > 0}
