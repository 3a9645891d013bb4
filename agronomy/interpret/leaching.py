"""Salt washed out: how much water it takes, in a bed or field by the millimetre, in a pot by its own volume."""

from math import exp, log

from agronomy.base.errors import check_range
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.tables import Tables

WAYS = {"soaks": say("in short soaks, or by sprinkler"), "ponded": "ponded without a break"}
MOST_EC = 60.0


@record(kw_only=True)
class Flush:
    """Water that washes salt from one conductivity to another [mm on the ground, or litres through the pots]; with its band and steps.

    `share_left` is the part of the salt that stays. Nothing is to be washed where the ground is at its aim already.
    """

    amount: float
    low: float
    high: float
    unit: str
    share_left: float
    steps: tuple[Step, ...]


def flush_ground(ec_now: float, ec_wanted: float, depth_cm: float, way: str, tables: Tables, *, is_peat: bool = False) -> Flush:
    """Water [mm] to wash a bed or field, from conductivity of its saturated paste [dS/m] to what is wanted, to a depth [cm].

    Raises OutOfRange. Source: leach-hoffman.

    >>> from agronomy.intake.example import tables
    >>> round(flush_ground(8.0, 3.0, 60.0, "ponded", tables).amount), round(flush_ground(8.0, 3.0, 60.0, "soaks", tables).amount)
    (480, 160)
    """
    _check(ec_now, ec_wanted)
    check_range("depth", depth_cm, low=5, high=200, unit="cm")
    figures = tables.salinity
    factor = figures.flush_soaks if way == "soaks" else figures.flush_peat if is_peat else figures.flush_ponded
    if ec_now <= ec_wanted:
        return Flush(amount=0.0, low=0.0, high=0.0, unit="mm", share_left=1.0, steps=())
    low, value, high = (part * depth_cm * 10 * ec_now / ec_wanted for part in (factor.low, factor.value, factor.high))
    step = Step(
        "water to wash the salt down",
        "factor × depth × 10 × salt now / salt wanted",
        {
            "factor": Figure.of(factor),
            "depth": Figure(depth_cm, "cm"),
            "salt now": Figure(ec_now, "dS/m"),
            "salt wanted": Figure(ec_wanted, "dS/m"),
        },
        Figure(value, "mm"),
        factor.source,
        factor.where,
    )
    return Flush(amount=value, low=low, high=high, unit="mm", share_left=ec_wanted / ec_now, steps=(step,))


def flush_pots(ec_now: float, ec_wanted: float, litres: float, tables: Tables) -> Flush:
    """Water [L] to pour through pots that hold so many litres of mix, from one conductivity of the extract [dS/m] to another.

    Raises OutOfRange. Source: pots-guide.

    >>> from agronomy.intake.example import tables
    >>> round(flush_pots(6.0, 6.0 * 0.301, 10.0, tables).amount, 1)
    10.0
    """
    _check(ec_now, ec_wanted)
    check_range("litres of mix", litres, low=0.05, high=1e6, unit="L")
    figures = tables.salinity
    if ec_now <= ec_wanted:
        return Flush(amount=0.0, low=0.0, high=0.0, unit="L", share_left=1.0, steps=())
    folds = log(ec_now / ec_wanted)
    held, push = figures.pot_held.value, figures.pot_push
    value = litres * folds * held / push.value
    step = Step(
        "water through the pots",
        "mix × share that holds water × folds / how well water pushes",
        {
            "mix": Figure(litres, "L"),
            "share that holds water": Figure.of(figures.pot_held),
            "folds": Figure(folds, "times e"),
            "how well water pushes": Figure.of(figures.pot_push),
        },
        Figure(value, "L"),
        "pots-guide",
        "salt left = exp(−push × volumes / held)",
    )
    low, high = (litres * folds * held / part for part in (push.high, push.low))
    return Flush(amount=value, low=low, high=high, unit="L", share_left=exp(-folds), steps=(step,))


def _check(ec_now: float, ec_wanted: float) -> None:
    check_range("salt now", ec_now, low=0.05, high=MOST_EC, unit="dS/m")
    check_range("salt wanted", ec_wanted, low=0.05, high=MOST_EC, unit="dS/m")
