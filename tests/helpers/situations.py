"""A plan beside what an adviser expected of it: amounts, days, materials, placement, and what it has to say."""

import re
from collections import Counter
from datetime import date

OXIDES = {"P2O5": ("P", 2.2914), "K2O": ("K", 1.2046), "lime": ("CaCO3", 1.0)}
BULK = {"garden_compost", "green_waste_compost", "manure_compost", "mushroom_compost", "worm_castings", "leaf_mould", "biosolids"} | {
    f"{animal}_manure" for animal in ("cattle", "pig", "sheep", "horse", "rabbit")
}
BULK_NITROGEN = 0.15  # of the nitrogen in bulky organics about so much counts in the first year
CRUMBS = {"lime": 50.0} | dict.fromkeys(("B", "Zn", "Mn", "Fe", "Cu"), 0.05)  # kg/ha that "none" lets pass; 5 of the rest
PER_AREA = {"kg/ha": 1.0, "g/m2": 0.1, "lb/acre": 0.892179, "lb/1000 ft2": 0.0204816, "lb/100 ft2": 0.00204816}
CODES = {"working", "source", "material", "materials", "key", "method", "placement_pattern", "request_sha256"}  # said to nobody
PATTERNS = (  # the first that fits
    ("ring", ("ring ", "in a ring", "drip line", "under the crown", "canopy")),
    ("leaf", ("on the leaf", "on the leaves", "leaf spray", "sprayed", "foliar")),
    ("drench", ("drench", "dissolved", "injected", "through the drip")),
    ("band", ("band", "furrow", "beside the seed", "in the row")),
    ("surface", ("on the surface",)),
    ("incorporated", ("worked in", "raked in", "dug in", "ploughed", "harrowed", "disced")),
    ("surface", ("surface", "scattered", "spread", "watered in", "mulch")),
)


def outside(expect: dict, plan: dict) -> list[str]:
    """All that falls outside what was expected of a plan document, in words."""
    doses, found = plan["applications"], []
    count = expect.get("count", 1)

    def amount(dose: dict, what: str, unit: str = "kg/ha") -> float:
        element, factor = OXIDES.get(what, (what, 1.0))
        given = dose["supplies"].get(element, 0.0) * factor * (BULK_NITROGEN if what == "N" and dose["material"] in BULK else 1.0)
        if unit in PER_AREA:
            return given * PER_AREA[unit]
        return dose["total_kg"] * 1000 * given / dose["rate_kg_per_ha"] / count

    def of(kind: str) -> list[dict]:
        if kind == "any":
            return doses
        if kind in ("organic", "amendment"):
            return [dose for dose in doses if dose["material"] in (BULK if kind == "organic" else {"gypsum"})]
        if kind in ("lime", "S_acid"):
            return [dose for dose in doses if dose["what"] == {"lime": "CaCO3"}.get(kind, kind)]
        bags = [dose for dose in doses if dose["material"] not in BULK]
        total = sum(amount(dose, kind) for dose in bags)
        return [dose for dose in bags if total and amount(dose, kind) >= 0.1 * total]

    for what, band in expect.get("rates", {}).items():
        low, high, unit = (0, CRUMBS.get(what, 5.0), "kg/ha") if band == "none" else (*band, "kg/ha")[:3]
        given = sum(amount(dose, what, unit) for dose in doses)
        found += [f"{what} {given:.4g}, {low:g} to {high:g} {unit}"] if not low * 0.995 <= given <= high * 1.005 + 1e-9 else []
    for key, (low, high) in expect.get("products", {}).items():
        given = sum(dose["rate_kg_per_ha"] for dose in doses if dose["material"] == key or (key == "organic" and dose["material"] in BULK))
        found += [f"{key} {given:.4g}, {low:g} to {high:g} kg/ha of product"] if not low * 0.995 <= given <= high * 1.005 + 1e-9 else []
    for kind, (most, unit) in expect.get("one_dressing", {}).items():
        by_day: Counter = Counter()
        for dose in of(kind) if kind in ("lime", "S_acid") else doses:
            by_day[dose["from"]] += dose["rate_kg_per_ha"] * PER_AREA[unit] if kind in ("lime", "S_acid") else amount(dose, kind, unit)
        found += [f"{max(by_day.values()):.4g} {unit} of {kind} at once"] if max(by_day.values(), default=0) > most * 1.005 else []
    for kind, (least, most) in expect.get("dressings", {}).items():
        days = len({dose["from"] for dose in of(kind)})
        found += [f"{kind} in {days} dressings, {least} to {most} wanted"] if not least <= days <= most else []
    for kind, months in expect.get("months", {}).items():
        days_told = (day for dose in of(kind) for day in (dose["from"], dose["to"]))
        wrong = sorted({day[:7] for day in days_told if date.fromisoformat(day).month not in months})
        found += [f"{kind} in {', '.join(wrong)}"] if wrong else []
    for kind, rule in expect.get("share", {}).items():
        total = sum(amount(dose, kind) for dose in of(kind))
        then = sum(amount(dose, kind) for dose in of(kind) if date.fromisoformat(dose["from"]).month in rule["months"])
        found += [f"only {then / total:.0%} of the {kind} in its season"] if total and then / total < rule["at_least"] else []
    for kind, rule in expect.get("materials", {}).items():
        used = {dose["material"] for dose in of(kind)}
        bad = used & set(rule.get("not", ())) or (used if used and "one_of" in rule and not used & set(rule["one_of"]) else set())
        found += [f"{kind} from {', '.join(sorted(bad))}"] if bad else []
    for kind, allowed in expect.get("placement", {}).items():
        found += [f"{kind} {way}, not {' or '.join(allowed)}" for way in {_way(dose["placement"]) for dose in of(kind)} - set(allowed)]
    texts = [
        " ".join([part, *_words(item)]).lower() for part, value in plan.items() for item in (value if isinstance(value, list) else [value])
    ]
    says = lambda ways: any(all(_stands(stem, text) for stem in way) for way in ways for text in texts)  # noqa: E731
    found += [f"does not say: {rule['fact']}" for rule in expect.get("must_say", ()) if not says(rule["any"])]
    found += [f"goes against: {rule['fact']}" for rule in expect.get("must_not", ()) if says(rule["any"])]
    wanted = expect.get("next_test")
    if wanted and not wanted["between"][0] <= plan["retest"] <= wanted["between"][1]:
        found.append(f"next test {plan['retest']}, {wanted['between']}")
    if wanted and "of" in wanted and not says(wanted["of"]):
        found.append(f"does not name the test: {wanted['what']}")
    return found


def _way(placement: str) -> str:
    words = placement.lower().replace("not dug in", "").replace("between the plants", "")
    return next((name for name, stems in PATTERNS if any(_stands(stem, words) for stem in stems)), "untold")


def _stands(stem: str, text: str) -> bool:
    """A stem stands at the beginning of words only: “peat” isn't in “repeat”."""
    return re.search(r"(?<![^\W\d_])" + re.escape(stem.lstrip()), text) is not None


def _words(node) -> list[str]:
    if isinstance(node, dict):
        return [text for key, value in node.items() if key not in CODES for text in _words(value)]
    return [text for item in node for text in _words(item)] if isinstance(node, list) else [node] if isinstance(node, str) else []
