"""Evaluates the formula of a working from the inputs that it shows: a working must not say one thing and do another."""

import re
from functools import lru_cache
from math import isclose, pi

from agronomy.base.working import Step

OPERATORS = re.compile(r"[×/+−·]")
PLAIN_NUMBERS = {"0", "1", "2", "10", "100", "1000", "10 000"}  # ends of a range, squares, and factors of ten between units
_NUMBER = re.compile(r"\d+(?: \d{3})*(?:[.,]\d+)?")
_SIGNS = {"×": "*", "·": "*", "−": "-", "²": "**2", "^": "**", "π": "pi"}
_ALLOWED = re.compile(r"(?:v\[\d+\]|\*\*2|[-+*/(),\s]|\bmax\b|\bmin\b|\bpi\b|\d+)*")


@lru_cache(maxsize=4096)
def compiled(formula: str, names: tuple[str, ...]):
    """The formula as code over a list of input values, or a sentence that says what is wrong with it."""
    text = formula
    for place, name in sorted(enumerate(names), key=lambda pair: -len(pair[1])):
        text = re.sub(rf"(?<![\w\[]){re.escape(name)}(?![A-Za-z0-9_\]])", f"v[{place}]", text)
    bare = re.sub(r"v\[\d+\]", "", text)
    for number in _NUMBER.findall(bare):
        if number not in PLAIN_NUMBERS:
            return f"the figure {number} stands in the formula “{formula}”: make it an input with its unit and source"
    text = text.replace("10 000", "10000")
    for sign, code in _SIGNS.items():
        text = text.replace(sign, code)
    if not _ALLOWED.fullmatch(text):
        return f"“{formula}” names what is not among its inputs {names}: {text}"
    return compile(text.strip(), "formula", "eval")


def fault_of(step: Step) -> str | None:
    """What is wrong with a step, or None. A formula without an operator is a choice told in words: it may hold no figure."""
    names = tuple(step.inputs)
    for name, figure in step.inputs.items():
        if figure.source and not figure.unit and not isinstance(figure.value, float):
            return f"{step.name}: the input “{name}” has no unit"
    if step.formula in step.inputs:
        result = step.inputs[step.formula].value
    elif (
        not OPERATORS.search(re.sub("|".join(map(re.escape, sorted(names, key=len, reverse=True))) or "$^", "", step.formula))
        and "(" not in step.formula
    ):
        stray = [number for number in _NUMBER.findall(step.formula) if not any(number in name for name in names)]
        return f"{step.name}: the figure {stray[0]} stands in “{step.formula}”" if stray else None
    else:
        code = compiled(step.formula, names)
        if isinstance(code, str):
            return f"{step.name}: {code}"
        values = [figure.value for figure in step.inputs.values()]
        result = eval(code, {"max": max, "min": min, "pi": pi, "v": values, "__builtins__": {}})  # noqa: S307 -- see compiled
    if not isclose(result, step.result.value, rel_tol=1e-6, abs_tol=1e-9):
        return f"{step.name}: “{step.formula}” of its inputs {step.inputs} is {result}, and the working says {step.result.value}"
    return None
