"""The bags of a whole holding as one question and its answer: for few plots at once, for many by the worker, with progress, to be stopped.

An answer is kept under all that it depends on, so that the bags that are put on plots are the very ones that were shown.
"""

import hashlib
import json
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from typing import Any

from django.core.cache import caches
from django_tasks import task

from agronomy.base.errors import OutOfRange, RequestError
from agronomy.intake.request import read_request
from agronomy.model.stock import StockLine
from agronomy.plan.plan import rules_version
from agronomy.whatif.case import case_for
from agronomy.whatif.holding import HoldingChoice, choose_for_holding
from web.core import error_text, tables

AT_ONCE = 8  # so many plots are chosen for while the page waits
WAITS_S = 15.0  # for the worker; where none comes, the page does the work
TOLD_S = 0.3  # between two looks at whether to stop


class Stopped(Exception):
    """Somebody does not want the answer any more."""


@dataclass(frozen=True, slots=True)
class Question:
    """Plots (key and name) with their request documents, the shed, and what is wanted."""

    plots: tuple[tuple[int, str], ...]
    documents: tuple[dict[str, Any], ...]
    shed: dict[str, StockLine]
    bag_sizes: dict[str, float]
    aim: str
    whole_bags: bool
    use_stock: bool
    most_money: float | None

    @property
    def key(self) -> str:
        told = json.dumps([rules_version(tables()), asdict(self)], sort_keys=True, default=str)
        return f"bags-{hashlib.sha256(told.encode()).hexdigest()}"


@dataclass(frozen=True, slots=True)
class Answer:
    """The choice for `plots` (their keys, in the order of its shares); `problem`: why it could not keep to the money."""

    plots: tuple[int, ...]
    left_out: tuple[str, ...]
    choice: HoldingChoice
    problem: str = ""


@dataclass(frozen=True, slots=True)
class Progress:
    """How far the worker is: each plot is looked at, then chosen for alone; then all are weighed together."""

    plots: int
    steps: int = 0
    touched: float = field(default_factory=time.time)

    @property
    def total(self) -> int:
        return 2 * self.plots

    @property
    def plot(self) -> int:
        return self.steps % self.plots + 1

    @property
    def phase(self) -> str:
        return ("looking", "alone", "together")[min(2, self.steps // self.plots)]


def answer(question: Question, after_each: Callable[[], None] = lambda: None) -> Answer:
    """The best bags; `after_each` is called twice for every plot, and may raise to stop."""
    found, cases, left_out = [], [], []
    for (plot, name), document in zip(question.plots, question.documents, strict=True):
        try:
            cases.append(case_for(read_request(document, tables()), tables()))
        except RequestError as error:
            left_out.append(f"{name}: {error_text(error.errors[0])}")
            after_each()
        else:
            found.append(plot)
        after_each()

    def chosen_for(most_money: float | None) -> HoldingChoice:
        return choose_for_holding(
            cases,
            question.shed,
            question.bag_sizes,
            question.aim,
            tables(),
            whole_bags=question.whole_bags,
            use_stock=question.use_stock,
            most_money=most_money,
            after_each=after_each,
        )

    try:
        return Answer(tuple(found), tuple(left_out), chosen_for(question.most_money))
    except OutOfRange as error:
        return Answer(tuple(found), tuple(left_out), chosen_for(None), error.problem)


def kept_answer(question: Question) -> Answer | None:
    """The answer, if it is known or found in a moment."""
    found = caches["by_worker"].get(question.key)
    if isinstance(found, Answer):
        return found
    return _answered(question) if len(question.plots) <= AT_ONCE else None


def search(question: Question) -> Answer | Progress:
    """The answer, or how far it is; who asks first sets the worker to it."""
    if (found := kept_answer(question)) is not None:
        return found
    kept, key = caches["by_worker"], question.key
    under_way = kept.get(key)
    if isinstance(under_way, Answer):  # found this moment
        return under_way
    if under_way is None:
        kept.delete(f"{key}-stop")
        kept.set(f"{key}-asked", question)
        begun = Progress(len(question.plots))
        kept.set(key, begun)
        choose_bags.enqueue(key)
        return kept.get(key) or begun
    return under_way if time.time() - under_way.touched < WAITS_S else _answered(question)


def stop(key: str) -> None:
    """Lets the worker give it up at its next plot."""
    caches["by_worker"].set(f"{key}-stop", True, 60)
    caches["by_worker"].delete(key)


def _answered(question: Question) -> Answer:
    made = answer(question)
    caches["by_worker"].set(question.key, made)
    return made


@task(priority=10)  # takes seconds, and goes before files that wait
def choose_bags(key: str) -> None:
    """Answers a question that was left for the worker, if it is still wanted."""
    kept = caches["by_worker"]
    question: Question | None = kept.get(f"{key}-asked")
    if question is None or isinstance(kept.get(key), Answer):
        return
    steps, told = 0, 0.0

    def after_each() -> None:
        nonlocal steps, told
        steps += 1
        if time.monotonic() - told > TOLD_S or steps == 2 * len(question.plots):
            if kept.get(f"{key}-stop"):
                raise Stopped
            kept.set(key, Progress(len(question.plots), steps))
            told = time.monotonic()

    try:
        kept.set(key, answer(question, after_each))
    except Stopped:
        kept.delete(f"{key}-asked")
