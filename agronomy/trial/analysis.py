"""What a trial has shown: means, their differences from the control with intervals first, and whether chance alone would do it.

Blocks and treatments by least squares, so that a lost plot is left out and never made up. Strips are blocks of two.
"""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from scipy import stats

from agronomy.base.errors import OutOfRange
from agronomy.base.record import record
from agronomy.base.said import say
from agronomy.trial.design import POWER
from agronomy.trial.dunnett import chance_within, critical

CONFIDENCE = 0.95


@record
class Observation:
    """What was weighed or counted on one unit; without a block where nothing was blocked. `before`: what was read of it beforehand."""

    treatment: str
    value: float
    block: int | None = None
    before: float | None = None


@record(kw_only=True)
class Difference:
    """A treatment beside the control: its mean, the difference with its interval over all comparisons, chances, and the verdict."""

    treatment: str
    mean: float
    difference: float
    low: float
    high: float
    alone_low: float
    alone_high: float
    p_alone: float
    p_together: float
    verdict: Literal["shown", "shown, worth open", "not shown", "no difference worth having"]
    says: str


@record(kw_only=True)
class Analysis:
    """A trial analysed: sums of squares, the error, F with its p, scatter in %, and each treatment against the control.

    `could_see`: the difference that would have shown four times in five. `slope`: how the value went with what was read before.
    """

    control: str
    control_mean: float
    treatments: int
    units: int
    blocks: int
    ss_total: float
    ss_blocks: float
    ss_treatments: float
    ss_error: float
    df_treatments: int
    df_error: int
    ms_error: float
    f: float
    p: float
    cv_pct: float
    sed: float
    edge: float
    largest_residual: float
    could_see: float
    slope: float | None
    differences: tuple[Difference, ...]
    doubts: tuple[str, ...]


def analyse(observations: Sequence[Observation], control: str, worth: float, unit: str = "") -> Analysis:
    """The analysis of a trial in blocks or without; `worth` is the difference worth having, in the unit of the values.

    Where every unit was read beforehand, differences are those between units alike in that (analysis of covariance).

    Raises OutOfRange where there is too little to tell. Source: least squares; Dunnett 1955 against a control.

    >>> pairs = [("none", 1, 7.0), ("fed", 1, 7.4), ("none", 2, 8.0), ("fed", 2, 8.3), ("none", 3, 7.5), ("fed", 3, 7.9)]
    >>> told = analyse([Observation(name, value, block) for name, block, value in pairs], "none", 0.1, "kg")
    >>> round(told.differences[0].difference, 3)
    0.367
    """
    names = [control, *sorted({item.treatment for item in observations} - {control})]
    _check(observations, names)
    values = np.array([item.value for item in observations])
    blocks = sorted({item.block for item in observations if item.block is not None})
    rest, has_before = _columns(observations, blocks)
    arms = np.array([[item.treatment == name for name in names[1:]] for item in observations], dtype=float)
    whole = np.hstack([rest, arms])
    df_error = len(values) - np.linalg.matrix_rank(whole)
    if df_error < 1:
        raise OutOfRange("values", len(values), "there are too few values to tell chance from effect", "weigh more repeats")
    fit, sse = _least_squares(whole, values)
    _, sse_without = _least_squares(rest, values)
    total = float(((values - values.mean()) ** 2).sum())
    ms_error = sse / df_error
    f = (sse_without - sse) / (len(names) - 1) / ms_error if ms_error > 0 else np.inf
    covariance = np.linalg.pinv(whole.T @ whole) * ms_error
    edge, alone = critical(len(names) - 1, df_error), float(stats.t.ppf((1 + CONFIDENCE) / 2, df_error))
    base = float(fit[: rest.shape[1]] @ _middle(rest, has_before=has_before))
    first, scale = rest.shape[1], _Scale(base, edge, alone, df_error, len(names) - 1, worth, unit)
    differences = tuple(
        _difference(name, float(fit[first + place]), _se(covariance, first + place), scale) for place, name in enumerate(names[1:])
    )
    residuals = values - whole @ fit
    return Analysis(
        control=control,
        control_mean=base,
        treatments=len(names),
        units=len(values),
        blocks=len(blocks),
        ss_total=total,
        ss_blocks=total - sse_without,
        ss_treatments=sse_without - sse,
        ss_error=sse,
        df_treatments=len(names) - 1,
        df_error=int(df_error),
        ms_error=ms_error,
        f=float(f),
        p=float(stats.f.sf(f, len(names) - 1, df_error)),
        cv_pct=100 * ms_error**0.5 / abs(float(values.mean())) if values.mean() else 0.0,
        sed=_se(covariance, rest.shape[1]),
        edge=edge,
        largest_residual=float(np.abs(residuals).max()),
        could_see=(alone + float(stats.t.ppf(POWER, df_error))) * _se(covariance, rest.shape[1]),
        slope=float(fit[rest.shape[1] - 1]) if has_before else None,
        differences=differences,
        doubts=(*_left_out(observations, has_before=has_before), *_doubts(residuals, whole @ fit, ms_error, df_error)),
    )


def _check(observations: Sequence[Observation], names: list[str]) -> None:
    counts = {name: sum(item.treatment == name for item in observations) for name in names}
    if len(names) < 2 or counts[names[0]] == 0:
        raise OutOfRange("treatments", len(names), "a control and one other treatment are needed", "enter values of both")
    lonely = [name for name, count in counts.items() if count < 2]
    if lonely:
        raise OutOfRange("values", counts[lonely[0]], f"{lonely[0]} has fewer than two values", "weigh two units of each treatment or more")
    if not np.isfinite([item.value for item in observations]).all():
        raise OutOfRange("values", None, "a value is no number", "check what was typed")


def _columns(observations: Sequence[Observation], blocks: list) -> tuple[np.ndarray, bool]:
    """The mean, a column for each block but the first, and last what was read before, about its mean; and whether that is there."""
    columns = np.array([[1.0, *(float(item.block == block) for block in blocks[1:])] for item in observations])
    before = [item.before for item in observations if item.before is not None]
    if len(before) < len(observations) or np.ptp(before) == 0:
        return columns, False
    return np.hstack([columns, (np.array(before) - np.mean(before))[:, None]]), True


def _middle(rest: np.ndarray, *, has_before: bool) -> np.ndarray:
    """The row of the mean unit: every block weighs alike, and what was read before is at its mean."""
    if not has_before:
        return np.unique(rest, axis=0).mean(axis=0)
    return np.append(np.unique(rest[:, :-1], axis=0).mean(axis=0), 0.0)


def _least_squares(columns: np.ndarray, values: np.ndarray) -> tuple[np.ndarray, float]:
    fit = np.linalg.lstsq(columns, values, rcond=None)[0]
    return fit, float(((values - columns @ fit) ** 2).sum())


def _se(covariance: np.ndarray, place: int) -> float:
    return float(covariance[place, place] ** 0.5)


@record
class _Scale:
    """By what every difference is measured: the control's mean, how many errors count, together and alone."""

    base: float
    edge: float
    alone: float
    df: float
    comparisons: int
    worth: float
    unit: str


def _difference(name: str, difference: float, se: float, by: _Scale) -> Difference:
    low, high = difference - by.edge * se, difference + by.edge * se
    off = abs(difference) / se if se > 0 else np.inf
    verdict, says = verdict_on(difference, low, high, by.worth, by.unit)
    return Difference(
        treatment=name,
        mean=by.base + difference,
        difference=difference,
        low=low,
        high=high,
        alone_low=difference - by.alone * se,
        alone_high=difference + by.alone * se,
        p_alone=float(2 * stats.t.sf(off, by.df)),
        p_together=max(0.0, 1 - chance_within(off, by.comparisons, by.df)) if np.isfinite(off) else 0.0,
        verdict=verdict,  # type: ignore[arg-type]
        says=says,
    )


def verdict_on(difference: float, low: float, high: float, worth: float, unit: str) -> tuple[str, str]:
    """Honest words: the size and its interval first, then what chance has to do with it. Source: practice-own.

    >>> verdict_on(0.1, -0.5, 0.7, 0.3, "kg")[0]
    'not shown'
    """
    of = f" {unit}" if unit else ""
    span = f"{low:.3g} to {high:.3g}{of}"
    if low > 0 or high < 0:
        way = "more" if difference > 0 else "less"
        size = say("{difference:.3g}{of} {way} than the control ({span})", difference=abs(difference), of=of, way=way, span=span)
        if min(abs(low), abs(high)) >= worth:
            return "shown", say("{size}: larger than chance here, and worth having.", size=size)
        return "shown, worth open", say("{size}: a difference is shown. Whether it is worth its cost is not.", size=size)
    if -worth < low and high < worth:
        return "no difference worth having", say("No difference worth having ({span}).", span=span)
    return "not shown", say("Not shown: it could be {span}. The trial was too small to tell.", span=span)


def _left_out(observations: Sequence[Observation], *, has_before: bool) -> tuple[str, ...]:
    """What was read before of some units only evens out nothing."""
    if has_before or all(item.before is None for item in observations):
        return ()
    return (say("What was read before is left out: not every unit has it, or all are alike."),)


def _doubts(residuals: np.ndarray, expected: np.ndarray, ms_error: float, df: float) -> tuple[str, ...]:
    """What to look at before the result is believed."""
    found = []
    if ms_error > 0 and np.abs(residuals).max() > 3 * ms_error**0.5:
        found.append(say("One unit lies far off the others. Look whether it makes the result."))
    if df < 6:
        found.append(say("There are few repeats: only a large difference could show."))
    if len(residuals) > 8 and np.std(expected) > 0:
        fan = stats.spearmanr(np.abs(residuals), expected)
        if fan.pvalue < 0.01 and fan.statistic > 0:
            found.append(say("The scatter grows with the size. Logarithms would be fairer."))
    return tuple(found)


@record
class Paying:
    """What a treatment earns for a unit of ground: mean and interval, the break-even, and how likely it pays."""

    gain: float
    low: float
    high: float
    break_even: float
    chance: float


def paying(of: Difference, df: int, price: float, cost: float) -> Paying:
    """The money of a difference at a price for its unit, less what the treatment costs. Source: partial budget (definition).

    Price and cost in one's own money, both for the same ground.

    >>> told = Difference(treatment="fed", mean=8.1, difference=0.24, low=0.0663, high=0.4137, alone_low=0.0663, alone_high=0.4137,
    ...                   p_alone=0.016, p_together=0.016, verdict="shown", says="")
    >>> round(paying(told, 5, 180.0, 22.0).chance, 2)
    0.93
    """
    se = (of.alone_high - of.alone_low) / 2 / float(stats.t.ppf((1 + CONFIDENCE) / 2, df))
    break_even = cost / price if price > 0 else float("inf")
    chance = float(stats.t.sf((break_even - of.difference) / se, df)) if se > 0 else float(of.difference > break_even)
    return Paying(of.difference * price - cost, of.alone_low * price - cost, of.alone_high * price - cost, break_even, chance)
