"""pH month by month: lime that reacts, sulfur that turns to acid, and the yearly load that draws pH down."""

from dataclasses import dataclass, field

import numpy as np

from agronomy.model.climate import Climate, evaporation_mm
from agronomy.tables import Tables
from agronomy.whatif.forecast.sulfur import eaten_um, oxidised_share

LEAST_PH, MOST_PH, LIMY_PH = 3.5, 8.3, 7.5
DAYS_A_MONTH = 30.4


@dataclass(kw_only=True)
class AcidState:
    """The ground's state in every draw: arrays of one length. Lime and sulfur are lists of pools, each put on at some month.

    ph: pH in water; capacity: kg CaCO3/ha for one pH unit; load, speed: factors of this draw; lime: [speed per year, kg CaCO3/ha left,
    mixed in];
    sulfur: [kg S/ha, how deep its grains are eaten, µm].
    """

    ph: np.ndarray
    capacity: np.ndarray
    load: np.ndarray
    speed: np.ndarray
    limy: bool = False
    month: int = 0
    lime: list = field(default_factory=list)
    sulfur: list = field(default_factory=list)

    def add_lime(self, kg_caco3: float, per_year: float, *, mixed_in: bool) -> None:
        self.lime.append([per_year, np.full_like(self.ph, kg_caco3), mixed_in])

    def add_sulfur(self, kg_s: float) -> None:
        self.sulfur.append([kg_s, np.zeros_like(self.ph)])


def leaching_load(ph, tables: Tables, climate: Climate | None = None):
    """Acid [kg CaCO3/ha a year] that draining rain leaves behind; less in acid ground, and where little rain drains. Source: acid-load.

    >>> from agronomy.intake.example import tables
    >>> round(float(leaching_load(6.5, tables)))
    75
    """
    figures = tables.forecast
    slope, most = figures.leaching_per_ph, figures.leaching_load.value
    if climate is not None:
        drains = sum(max(0.0, rain - gone) for rain, gone in zip(climate.rain_mm, evaporation_mm(climate.warmth_c), strict=True))
        dry = figures.leaching_load_dry.value
        most = dry + (most - dry) * min(1.0, drains / figures.drains_through_mm.value)
    return most * np.clip(1 + slope.value * (ph - 6.5), slope.low, slope.high)


def wetness(climate: Climate, month: int, tables: Tables) -> float:
    """How far the month's rain lets lime and bacteria work, 1 where it is half of what evaporates or more. Source: lime-kinetics.

    A share; rain in mm.

    >>> from agronomy.intake.example import tables
    >>> from agronomy.model.climate import climate_of
    >>> round(wetness(climate_of("thornmere_vale", tables), 7, tables), 2)
    1.0
    """
    gone, share = evaporation_mm(climate.warmth_c)[month - 1], tables.forecast.wet_enough_share.value
    least = tables.forecast.dry_pace.value
    return 1.0 if gone <= 0 else float(np.clip(least + (1 - least) * climate.rain_mm[month - 1] / (share * gone), least, 1.0))


def one_month(state: AcidState, load_kg_a_year, tables: Tables, *, warmth_c: float | None = None, wet: float = 1.0) -> None:
    """Moves the state on by a month under a yearly acid load [kg CaCO3/ha], a number or an array by draw; `wet` is its `wetness`.

    Source: lime-kinetics, acid-load, janzen-1987.
    """
    figures = tables.forecast
    warmth = figures.soil_warmth_c.value if warmth_c is None else warmth_c
    pace = figures.lime_q10.value ** ((warmth - 12) / 10) * wet * state.speed * np.clip((8 - state.ph) / 2.5, 0, 1.4)
    change = np.zeros_like(state.ph)
    for pool in state.lime:
        mixed = 1.0 if pool[2] else figures.surface_factor.value
        reacted = pool[1] * (1 - np.exp(-pool[0] / 12 * pace * mixed))
        pool[1] = pool[1] - reacted
        change += reacted
    grain = figures.sulfur_grain_um.value
    for pool in state.sulfur:
        deeper = pool[1] + eaten_um(DAYS_A_MONTH, warmth, tables, speed=state.speed * wet)
        change -= pool[0] / tables.acidity.sulfur_per_caco3.value * (oxidised_share(deeper, grain) - oxidised_share(pool[1], grain))
        pool[1] = deeper
    change -= load_kg_a_year * state.load / 12
    moved = np.clip(state.ph + change / state.capacity, LEAST_PH, MOST_PH)
    state.ph = np.maximum(moved, np.minimum(state.ph, LIMY_PH)) if state.limy else moved
    state.month += 1
