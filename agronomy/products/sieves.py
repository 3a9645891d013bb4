"""How much of a lime is fine enough to react, from what passes through sieves."""

from itertools import pairwise

from agronomy.base.errors import OutOfRange, UnknownName, check_range
from agronomy.tables import Tables

MESH_MM = {4: 4.75, 8: 2.36, 10: 2.00, 20: 0.85, 30: 0.60, 50: 0.30, 60: 0.25, 100: 0.15}


def schemes(tables: Tables) -> dict[str, str]:
    """Schemes by key with their names. Source: lime-fineness-schemes.

    >>> from agronomy.intake.example import tables
    >>> len(schemes(tables)) > 2
    True
    """
    return {row.scheme: row.name for row in tables.acidity.sieves}


def reacting_share(scheme: str, passing: dict[int, float], tables: Tables) -> float:
    """Share that reacts [fraction] by a scheme, from the fraction passing each mesh. Source: lime-fineness-tri, lime-fineness-schemes.

    Raises UnknownName for a scheme, OutOfRange for a sieve that is missing, a share outside 0 to 1, or a finer sieve that lets more
    through.
    """
    rows = [row for row in tables.acidity.sieves if row.scheme == scheme]
    if not rows:
        raise UnknownName(
            "scheme", scheme[:20], f"“{scheme[:20]}” is not in our list of sieves", f"use one of {', '.join(schemes(tables))}"
        )
    for mesh, share in passing.items():
        check_range(f"passing mesh {mesh}", share, low=0, high=1)
    for coarse, fine in pairwise(sorted(passing)):
        if passing[fine] > passing[coarse] + 1e-9:
            raise OutOfRange(
                f"passing mesh {fine}", passing[fine], f"more passes mesh {fine} than the coarser {coarse}", "check the order of the sieves"
            )
    total = 0.0
    for row in rows:
        if row.mesh != "all" and int(row.mesh) not in passing:
            raise OutOfRange(
                "sieves", None, f"what passes mesh {row.mesh} ({MESH_MM[int(row.mesh)]:g} mm) is missing", "type it, or take another scheme"
            )
        total += row.weight * (1.0 if row.mesh == "all" else passing[int(row.mesh)])
    return total


def effective_value(cce_pct: float, share: float, moisture_pct: float = 0.0) -> float:
    """Effective neutralising value [% of pure CaCO3] of lime as it comes. Source: definition.

    >>> round(effective_value(92, 0.67, 4), 1)
    59.2
    """
    check_range("neutralising value", cce_pct, low=1, high=180)
    check_range("moisture", moisture_pct, low=0, high=80)
    return cce_pct * share * (1 - moisture_pct / 100)
