"""The demo's trials, with what was weighed in them."""

from datetime import date

from agronomy.trial.design import lay_out
from web.overview.demo.days import past_day
from web.people.models import Holding
from web.trials.models import Trial


def load_trials(document: dict, holding: Holding, plots: dict, today: date) -> None:
    """Each trial of the document; `weighed` has the values of a treatment in the order of the blocks."""
    for row in document.get("trial", ()):
        weighed, fields = row["weighed"], {key: value for key, value in row.items() if key not in ("plot", "weighed", "day")}
        trial = Trial(holding=holding, plot=plots[row["plot"]], begun_on=past_day(row["day"], 0, today), blocks=len(weighed[0]), **fields)
        units = lay_out(trial.treatments, trial.blocks, trial.seed)
        trial.values = {str(unit.number): str(weighed[trial.treatments.index(unit.treatment)][unit.block - 1]) for unit in units}
        trial.save()
