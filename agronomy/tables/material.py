"""A material that can be spread: what is in it, how it acts, what it costs and how it can hurt."""

from dataclasses import dataclass, fields, replace

P_IN_P2O5 = 1 / 2.2914
K_IN_K2O = 1 / 1.2046


@dataclass(frozen=True, slots=True)
class Material:
    """One row of `data/materials.csv`. Contents in % by weight of the product; n, p2o5, k2o as on a label.

    cce is kg CaCO3 that 100 kg neutralises (acid-forming: negative); fineness is the share that reacts in a season or so;
    available_n and available_p are the shares a crop can use in the first year.
    """

    key: str
    name: str
    roles: frozenset[str]
    n: float
    p2o5: float
    k2o: float
    ca: float
    mg: float
    s: float
    cce: float
    fineness: float | None
    density_g_per_ml: float
    chloride_pct: float
    speed: str
    rule: str
    available_n: float
    available_p: float
    ph_max: float | None
    bag_kg: float
    list_price_per_kg: float
    cautions: str
    chosen_for_you: bool
    spoons: bool
    loses_ammonia: bool
    source: str
    where: str
    status: str
    share: dict[str, float] | None = None

    @classmethod
    def from_row(cls, row: dict) -> "Material":
        names = {field.name for field in fields(cls)}
        known = {name: value for name, value in row.items() if name in names}
        material = cls(**known | {"roles": frozenset(row["roles"].split(";"))})
        return replace(material, share=usable_shares(material))

    def has_role(self, role: str) -> bool:
        return role in self.roles

    @property
    def is_organic_allowed(self) -> bool:
        return self.rule in ("natural", "mined")

    @property
    def effective_neutralising_value(self) -> float:
        """CaCO3 that one kg of product gives in time, as a fraction: neutralising value x fineness."""
        return self.cce / 100 * (self.fineness or 0.0)


def usable_shares(material: Material) -> dict[str, float]:
    """Usable element per kg of product [fraction], first year."""
    shares = {
        "N": material.n / 100 * material.available_n,
        "P": material.p2o5 / 100 * P_IN_P2O5 * material.available_p,
        "K": material.k2o / 100 * K_IN_K2O,
        "Ca": material.ca / 100,
        "Mg": material.mg / 100,
        "S": material.s / 100,
    }
    return {nutrient: share for nutrient, share in shares.items() if share > 0}
