"""What a trial has shown, in words and money."""

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.trial.analysis import Analysis, Observation, analyse, paying
from web.core import error_text
from web.drawing.trial import dots
from web.trials.finding import units_of
from web.trials.models import Trial


def observed(trial: Trial) -> list[Observation]:
    """What was weighed, unit by unit, with what was read before where every weighed unit has it."""
    blocked = trial.kind != Trial.Kind.POTS
    return [
        Observation(
            unit.treatment,
            parse_number(trial.values[str(unit.number)], "value"),
            unit.block if blocked else None,
            parse_number(trial.before[str(unit.number)], "value") if str(unit.number) in trial.before else None,
        )
        for unit in units_of(trial)
        if str(unit.number) in trial.values
    ]


def analysis_of(trial: Trial) -> Analysis | None:
    """The analysis; None where there is too little to tell."""
    try:
        return analyse(observed(trial), trial.treatments[0], trial.worth, trial.unit)
    except RuleError:
        return None


def result_of(trial: Trial, currency: str) -> dict | None:
    """The result for the page; None where nothing was weighed."""
    found = observed(trial)
    if not found:
        return None
    values = {name: [item.value for item in found if item.treatment == name] for name in trial.treatments}
    told: dict = {"dots": dots(values)}
    try:
        analysis = analyse(found, trial.treatments[0], trial.worth, trial.unit)
    except RuleError as error:
        return told | {"why_not": error_text(error)}
    could = f"{analysis.could_see:.2g} {trial.unit}".strip()
    return told | {"found": analysis, "could_see": could, "rows": [_row(item, analysis, trial, currency) for item in analysis.differences]}


def _row(item, found: Analysis, trial: Trial, currency: str) -> dict:
    row = {"item": item, "mean": f"{item.mean:.4g}", "says": item.says}
    if trial.price and item.treatment in trial.costs:
        money = paying(item, found.df_error, trial.price, trial.costs[item.treatment])
        gain, low, high = (_sum(amount, currency) for amount in (money.gain, money.low, money.high))
        row["money"] = f"{gain} ({low} to {high}) {_ground(trial.unit)}; it pays with a chance of {_in_a_hundred(money.chance)} in 100"
    return row


def _sum(amount: float, currency: str) -> str:
    return f"{'−' if amount < 0 else ''}{currency}{abs(amount):.2f}"


def _ground(unit: str) -> str:
    """For how much ground a sum stands, by the unit of what was weighed."""
    return "a hectare" if unit.endswith("/ha") else "an acre" if unit.endswith("/acre") else "for the ground of one unit"


def _in_a_hundred(chance: float) -> str:
    """A chance as people say it: nothing is certain."""
    return "more than 99" if chance > 0.99 else "less than 1" if chance < 0.01 else f"{chance * 100:.0f}"
