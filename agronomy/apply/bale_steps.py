"""The straw-bale start as steps of a programme, out of the same table of days as its desk."""

from typing import Any

from agronomy.apply.bale import BaleDay, start_bales
from agronomy.tables import Tables


def bale_steps(bales: dict[str, str], tables: Tables) -> list[dict[str, Any]]:
    """Steps for one bale as rows of a programme: `bales` names the feed, the phosphate and the potash. Source: straw-bale-guide."""
    feed = tables.materials[bales["feed"]]
    return [step for day in start_bales(feed, 1, tables).days for step in _steps(day, bales, tables)]


def _steps(day: BaleDay, bales: dict[str, str], tables: Tables) -> list[dict[str, Any]]:
    step = {"after": day.day - 1, "do": day.do[0].upper() + day.do[1:], "within": 0, "stretches": True}
    if day.product_g:
        return [step | {"material": bales["feed"], "grams": round(day.product_g, 1)}]
    phosphate, potash = tables.materials[bales["phosphate"]], tables.materials[bales["potash"]]
    fed = [(phosphate.key, day.p2o5_g / phosphate.p2o5 * 100)] if day.p2o5_g else []
    fed += [(potash.key, day.k2o_g / potash.k2o * 100)] if day.k2o_g else []
    return [step | {"material": key, "grams": round(grams, 1)} for key, grams in fed] or [step]
