"""One material: what it holds and gives, when, what it does beside, how it may hurt, what it must not meet."""

from django.contrib.auth.decorators import login_not_required
from django.http import Http404
from django.shortcuts import render

from agronomy.base import showing
from agronomy.base.said import measured
from agronomy.diagnose.claims import claims_about
from agronomy.plan.cautions import material_cautions
from agronomy.products.compatibility import clash
from agronomy.products.nitrogen_losses import Conditions, ammonia_share
from agronomy.products.worth import working_share
from agronomy.recommend.nutrients.carried import manure_of
from agronomy.recommend.nutrients.release import released_by
from agronomy.tables.material import Material
from web.core import tables
from web.sentences import tell

HELD = (
    ("n", "nitrogen N"),
    ("p2o5", "phosphate P₂O₅"),
    ("k2o", "potash K₂O"),
    ("ca", "calcium Ca"),
    ("mg", "magnesium Mg"),
    ("s", "sulfur S"),
    ("chloride_pct", "chloride Cl"),
)
GIVES = (("N", "nitrogen"), ("P", "phosphorus"), ("K", "potassium"), ("Mg", "magnesium"), ("S", "sulfur"), ("Ca", "calcium"))
SPEEDS = {"soon": "within days", "weeks": "within weeks", "months": "over months", "seasons": "over seasons", "years": "over years"}
RULES = {
    "natural": "natural: organic rules usually allow it; ask your certifier",
    "mined": "mined: organic rules usually allow it; ask your certifier",
    "restricted": "restricted: organic rules need a proof of need, or forbid it; ask your certifier",
    "synthetic": "synthetic: organic rules usually forbid it",
}
WEEKS = (4, 12, 26)
ORDINARY_CEC = 12.0  # cmol/kg, of a loam: only to show a loss beside another


@login_not_required
def material(request, key: str):
    """All that the tables say of a material."""
    found = tables().materials.get(key)
    if found is None:
        raise Http404
    traits = found
    context = {
        "material": found,
        "held": [(name, f"{getattr(found, field):g} %") for field, name in HELD if getattr(found, field)],
        "gives": [(name, f"{found.share[nutrient] * 100:.2g} %") for nutrient, name in GIVES if nutrient in (found.share or {})],
        "micro": [tuple(pair.split(":")) for pair in traits.micro],
        "years": _years(found),
        "release": [(week, f"{released_by(found, week, 15, tables()) * 100:.0f} %") for week in WEEKS]
        if found.release_class and found.n
        else [],
        "lime": _lime(found),
        "facts": _facts(found, traits, request.place.units),
        "losses": _losses(found, traits),
        "rule": RULES.get(found.rule, found.rule),
        "cautions": material_cautions([found], tables()),
        "claims": claims_about(found.key, tables()),
        "clashes": _clashes(found),
        "is_tonic": found.has_role("tonic"),
    }
    return render(request, "planning/material.html", context)


def _years(material: Material) -> list[tuple[str, str]]:
    """Organic nitrogen released in years one to three, where the table of manures has it."""
    row = manure_of(material, tables())
    return [(f"year {year + 1}", f"{row.mineralised(year) * 100:.0f} %") for year in range(3)] if row else []


def _lime(material: Material) -> list[str]:
    said = []
    if material.cce > 0.5:
        said.append(f"neutralises like {material.cce:g} % of its weight in pure lime")
    elif material.cce < -0.5:
        said.append(f"uses up {-material.cce:g} parts of pure lime to 100: it makes the ground more acid")
    if material.has_role("lime"):
        said.append(f"{working_share(material, 'lime') * 100:.0f} % works in a season or so, after its usual fineness")
    return said


def _facts(material: Material, traits, units: str) -> list[tuple[str, str]]:
    rows = [
        ("form", traits.form),
        ("works", SPEEDS.get(material.speed, material.speed)),
        ("loose", showing.bulk(material.density_g_per_ml, units)),
        ("usual bag", showing.mass(material.bag_kg, units, 3)),
        ("salt index (equal weight, sodium nitrate 100)", traits.salt_index),
        (
            f"dissolves at {showing.warmth(20, units)}",
            tell(measured(traits.solubility_g_per_l, "g/L"), units) if traits.solubility_g_per_l else None,
        ),
        ("draws water", traits.hygroscopic),
        ("works up to", f"pH {material.ph_max:g}" if material.ph_max else None),
        ("holds its metal", f"from pH {traits.holds_from_ph:g} to {traits.holds_to_ph:g}" if traits.holds_to_ph else None),
    ]
    return [(name, f"{value:g}" if isinstance(value, float) else value) for name, value in rows if value not in (None, "")]


def _losses(material: Material, traits) -> list[str]:
    """Ammonia from ordinary ground, left on top and worked in within a day."""
    form = traits.n_form
    if not form or not material.n:
        return []
    shares = [ammonia_share(form, 6.5, ORDINARY_CEC, Conditions(way), tables()) for way in ("never", "one_day")]
    said = [f"{shares[0] * 100:.0f} % of its nitrogen as ammonia where it is left on top, {shares[1] * 100:.0f} % worked in within a day"]
    nitrate = tables().losses.forms[form].nitrate_share
    return said + ([f"{nitrate * 100:.0f} % of it is nitrate, which washes out"] if nitrate else [])


def _clashes(material: Material) -> list[dict]:
    """Materials it does not go together with, by reason."""
    by_reason: dict[tuple, list[str]] = {}
    for other in tables().materials.values():
        found = clash(material, other, tables()) if other.key != material.key else None
        if found:
            by_reason.setdefault((found.together, found.reason, found.danger, found.days), []).append(other.name)
    return [
        {
            "together": together,
            "reason": reason,
            "danger": danger,
            "days": days,
            "names": ", ".join(sorted(names)[:8]) + (" …" if len(names) > 8 else ""),
        }
        for (together, reason, danger, days), names in by_reason.items()
    ]
