"""pH month by month: lime that reacts, sulfur that turns to acid, and the yearly load that draws pH down."""

from dataclasses import dataclass, field

import numpy as np

from agronomy.forecast.sulfur import sulfur_oxidised
from agronomy.tables import Tables

LEAST_PH, MOST_PH, LIMY_PH = 3.5, 8.3, 7.5
DAYS_A_MONTH = 30.4


@dataclass
class AcidState:
    """The ground's state in every draw: arrays of one length. Lime and sulfur are lists of pools, each put on at some month.

    ph: pH in water; capacity: kg CaCO3/ha for one pH unit; load, speed: factors of this draw; lime: [speed per year, kg CaCO3/ha left, mixed in];
    sulfur: [month, kg S/ha].
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
        self.sulfur.append([self.month, kg_s])


def leaching_load(ph, tables: Tables):
    """Acid [kg CaCO3/ha a year] that draining rain leaves behind; less in acid ground. Source: acid-load."""
    slope = tables.forecast["leaching_per_ph"]
    return tables.forecast["leaching_load"].value * np.clip(1 + slope.value * (ph - 6.5), slope.low, slope.high)


def one_month(state: AcidState, load_kg_a_year, tables: Tables, *, warmth_c: float | None = None) -> None:
    """Moves the state on by a month under a yearly acid load [kg CaCO3/ha], a number or an array by draw.

    Source: lime-kinetics, acid-load, janzen-1987.
    """
    figures = tables.forecast
    warmth = figures["soil_warmth_c"].value if warmth_c is None else warmth_c
    pace = figures["lime_q10"].value ** ((warmth - 12) / 10) * state.speed * np.clip((8 - state.ph) / 2.5, 0, 1.4)
    change = np.zeros_like(state.ph)
    for pool in state.lime:
        mixed = 1.0 if pool[2] else figures["surface_factor"].value
        reacted = pool[1] * (1 - np.exp(-pool[0] / 12 * pace * mixed))
        pool[1] = pool[1] - reacted
        change += reacted
    for start, kg in state.sulfur:
        ages = np.array([state.month - start, state.month - start + 1]) * DAYS_A_MONTH
        before, after = (sulfur_oxidised(age, figures["sulfur_grain_um"].value, warmth, tables, speed=state.speed) for age in ages)
        change -= kg / tables.acidity["sulfur_per_caco3"].value * (after - before)
    change -= load_kg_a_year * state.load / 12
    moved = np.clip(state.ph + change / state.capacity, LEAST_PH, MOST_PH)
    state.ph = np.maximum(moved, np.minimum(state.ph, LIMY_PH)) if state.limy else moved
    state.month += 1
