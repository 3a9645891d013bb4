"""What is said of soils and feeds, found by words and by what it is about."""

from collections.abc import Iterable

from agronomy.model.finding import Finding
from agronomy.tables import Tables
from agronomy.tables.material import Material
from agronomy.tables.rooms.watch import Cause, Claim

CHOSEN = ("choosing", "rate")
WORST_FIRST = ("contradicted", "weak", "supported in some cases", "well supported")


def claims_with(words: str, tables: Tables) -> list[Claim]:
    """Claims that hold all words anywhere; all of them without words. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> "eggshell_ber" in [row.key for row in claims_with("eggshell blossom", tables)]
    True
    """
    wanted = words.lower().split()
    rows = tables.watch.claims.values()
    return [row for row in rows if all(word in f"{row.claim} {row.evidence} {row.instead} {row.holds_where}".lower() for word in wanted)]


def claims_about(name: str, tables: Tables) -> list[Claim]:
    """Claims about a material or nutrient, the worst founded first. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> claims_about("epsom_salt", tables)[0].verdict
    'contradicted'
    """
    found = [row for row in tables.watch.claims.values() if name in row.about]
    return sorted(found, key=lambda row: WORST_FIRST.index(row.verdict))


def claim_for_sign(cause: Cause, tables: Tables) -> Claim | None:
    """The one saying to remember where a plant may be short of something: the worst founded of its remedies. Source: each row's own.

    >>> from agronomy.intake.example import tables
    >>> claim_for_sign(tables.watch.causes["ca_short"], tables).key
    'epsom_ber'
    """
    nutrient, _, kind = cause.key.partition("_")
    if kind != "short":
        return None
    return next((row for row in claims_about(nutrient.capitalize(), tables) if row.moment == "symptom"), None)


def claim_for_choice(material: Material, findings: Iterable[Finding], tables: Tables) -> Claim | None:
    """The one saying to remember as a material is chosen for a ground; None where the ground itself gives the reason to take it.

    Source: each row's own.

    >>> from agronomy.intake.example import plan, tables
    >>> claim_for_choice(tables.materials["epsom_salt"], [], tables).key
    'epsom_tonic'
    """
    found = {finding.analyte: finding for finding in findings}
    too_acid = "pH" in found and found["pH"].class_ == "too_acid"
    sodic = "Na" in found and found["Na"].class_ in ("sodic", "sodium_rising")
    if (too_acid and material.cce > tables.nutrients.liming_cce.value) or (sodic and "gypsum" in material.key):
        return None
    for row in claims_about(material.key, tables):
        is_shown = row.moment in CHOSEN and row.verdict != "well supported"
        if is_shown and not any(name in found and found[name].is_short for name in row.about):
            return row
    return None
