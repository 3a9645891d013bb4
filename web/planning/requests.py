"""From stored ground and readings to the core's request: the same document that the command line takes."""

from collections.abc import Iterable
from datetime import date
from typing import Any

from agronomy.base.required import required
from agronomy.model.ground_facts import FACTS
from web.core import tables
from web.ground.models import NutrientCredit, Planting, Plot
from web.prepared import Prepared, hanging_on
from web.readings.models import LabResult
from web.readings.selectors import PlanLine
from web.records.models import LogEntry
from web.supplies.stock import Stock, stock_of

_GIFTS: Prepared[NutrientCredit] = Prepared(lambda plot: NutrientCredit.objects.filter(plot=plot))
_LOG: Prepared[LogEntry] = Prepared(lambda plot: LogEntry.objects.filter(plot=plot))
FREE_LIME = {"": None, "yes": True, "no": False}


def request_document(
    plot: Plot, planting: Planting | None, lines: Iterable[LabResult | PlanLine], *, today: date, units: str, stock: Stock | None = None
) -> dict[str, Any]:
    """The request document for one plot (docs/plan-format.md). The holding's `stock` saves two queries where many plots are asked for."""
    holding, planting = plot.holding, required(planting)
    document: dict[str, Any] = {
        "today": today.isoformat(),
        "units": units,
        "plot": {
            "name": plot.name,
            "kind": plot.kind,
            "area": f"{plot.area_m2!r} m2",
            "depth": f"{plot.depth_cm!r} cm",
            **_texture(plot),
            "mix": plot.mix or None,
            "free_lime": FREE_LIME[plot.free_lime],
            "dug": plot.dug,
            "hemisphere": holding.hemisphere,
            **_ground(plot),
        },
        "readings": [_reading(line) for line in lines],
        "crop": crop_document(planting),
        "school": plot.school or holding.school,
        "allow": {"organic_only": holding.organic_only, "chloride": holding.chloride},
        "materials": None,
        "shed": (stock or stock_of(holding.pk)).document,
    }
    if holding.country:
        document["country"] = holding.country
    if holding.equipment:
        document["equipment"] = holding.equipment
    return document | {key: value for key, value in _told(plot, planting).items() if value}


def _texture(plot: Plot) -> dict[str, Any]:
    """The texture by its percentages where they were measured, else by its name."""
    if plot.sand_pct is None or plot.clay_pct is None:
        return {"texture": plot.texture or None}
    return {"sand_pct": plot.sand_pct, "silt_pct": round(100 - plot.sand_pct - plot.clay_pct, 6), "clay_pct": plot.clay_pct}


def _ground(plot: Plot) -> dict[str, Any]:
    """What only some plots have been told of their ground, cover and water."""
    count = str(plot.sizes.get("count", "")).strip()
    told = {
        "sizes": {"count": count} if count else None,  # the area above goes before it; pots and bales are told one by one
        **{name: getattr(plot, name) for name in FACTS},
        "watering": plot.watering,
        "watering_a_season": None if plot.watering_mm is None else f"{plot.watering_mm!r} mm",
        "cover": plot.cover,
    }
    return {key: value for key, value in told.items() if value not in (None, "")}


def crop_document(planting: Planting) -> dict[str, Any]:
    """The crop of a request, with the holding's own figures where it has some."""
    crop = {
        "key": planting.crop,
        "planting": planting.planted_on.isoformat() if planting.planted_on else None,
        "yield_goal": None if planting.yield_goal_t_per_ha is None else f"{planting.yield_goal_t_per_ha!r} t/ha",
        "target_ph": planting.target_ph,
    }
    if planting.companion:
        crop["companion"] = planting.companion
    if planting.spacing_cm and planting.row_width_cm:
        crop["spacing"] = f"{planting.spacing_cm!r} cm x {planting.row_width_cm!r} cm"
    got = _got_before(planting)
    if got is not None:
        crop["yield_got"] = f"{got!r} t/ha"
    if planting.ended_on:
        crop["harvest"] = planting.ended_on.isoformat()
    own = planting.own_crop
    return crop if own is None else crop | {"own": {"name": own.name} | own.figures}


def _got_before(planting: Planting) -> float | None:
    """What the same crop yielded on this plot last time [t/ha]."""
    before = [
        other.yield_got_t_per_ha
        for other in planting.plot.plantings.all()
        if other.crop == planting.crop and other.pk != planting.pk and other.yield_got_t_per_ha is not None
    ]
    return planting.yield_got_t_per_ha if planting.yield_got_t_per_ha is not None else (before[-1] if before else None)


def _harvests(plot: Plot, planting: Planting) -> list[dict[str, Any]]:
    """The crops that stood before, with what they gave as far as somebody weighed it."""
    before = [item for item in plot.plantings.all() if item.ended_on and item.pk != planting.pk and item.crop in tables().crops]
    return [
        {"crop": item.crop, "on": item.ended_on.isoformat()}
        | ({} if item.yield_got_t_per_ha is None else {"got": f"{item.yield_got_t_per_ha!r} t/ha"})
        for item in before
    ]


def _told(plot: Plot, planting: Planting) -> dict[str, Any]:
    """What only some plots have: gifts, lines left out, caps, a response, own levels, wishes about bags."""
    holding = plot.holding
    caps = {"N": holding.cap_n_kg_per_ha, "P2O5": holding.cap_p2o5_kg_per_ha}
    return {
        "credits": [_gift(gift) for gift in hanging_on(plot, "gifts", _GIFTS)],
        "uncounted": plot.uncounted,
        "caps": {name: f"{cap!r} kg/ha" for name, cap in caps.items() if cap is not None},
        "response": planting.response,
        "targets": holding.levels,
        "aim": plot.aim,
        "most_bags": plot.most_bags,
        "lost_times": plot.lost_times,
        "climate": climate_document(holding),
        "done": [_done(entry) for entry in hanging_on(plot, "log", _LOG) if entry.stands],
        "harvests": _harvests(plot, planting),
        "hands": holding.hands,
        "closed": holding.closed,
        "own_buffering": plot.own_buffering,
        "own_pools": plot.own_pools or {},
        "wanted": plot.wanted,
        "without": plot.without,
    }


def _done(entry: LogEntry) -> dict[str, Any]:
    return {"material": entry.material, "amount": f"{entry.kg!r} kg", "on": entry.done_on.isoformat()}


def climate_document(holding) -> dict[str, Any] | None:
    """The climate of a request: one's own months before a place of the table."""
    return holding.own_climate or ({"key": holding.climate} if holding.climate else None)


def _gift(gift: NutrientCredit) -> dict[str, Any]:
    told = {
        "kind": gift.kind,
        "name": gift.name,
        "counted": gift.counted,
        "what": gift.what or None,
        "rate": None if gift.rate_t_per_ha is None else f"{gift.rate_t_per_ha!r} t/ha",
        "nitrogen_pct": gift.nitrogen_pct,
        "nitrate_n_mg_per_l": gift.nitrate_n_mg_per_l,
        "water": None if gift.water_mm is None else f"{gift.water_mm!r} mm",
        "on": gift.on.isoformat() if gift.on else None,
        "worked_in": gift.worked_in or None,
        "ammonium_kg_per_t": gift.ammonium_kg_per_t,
        "organic_kg_per_t": gift.organic_kg_per_t,
    }
    return {key: value for key, value in told.items() if value is not None}


def _reading(line: LabResult | PlanLine) -> dict[str, Any]:
    slip = line.slip
    reading = {
        "analyte": line.analyte,
        "value": line.typed,
        "unit": line.unit,
        "method": line.method,
        "how": slip.how,
        "taken": slip.taken_on.isoformat(),
    }
    if slip.stage or slip.position:
        reading |= {"stage": slip.stage, "part": slip.position}
    if slip.bottom_cm is not None:
        reading |= {"top": f"{slip.top_cm or 0.0!r} cm", "bottom": f"{slip.bottom_cm!r} cm"}
    return reading if line.own_error is None else reading | {"error": line.own_error}
