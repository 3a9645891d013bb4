"""Documents of a wrong shape: what is said of them, and what stands in for what is misshapen while the rest is checked."""

from typing import Any

from agronomy.base.errors import RuleError

DEEPEST = 30  # no sound request is nested half as deep

# Harmless values that stand in for what is missing or misshapen, only so that the rest can be checked in the same breath.
_STAND_IN = {
    "today": "2000-01-01",
    "name": "plot",
    "area": 1,
    "depth": 15,
    "key": "dahlia",
    "analyte": "pH",
    "value": 7,
    "material": "urea",
    "plot": {"name": "plot", "area": 1, "depth": 15},
    "crop": {"key": "dahlia"},
}


def is_deeper(document: Any, most: int) -> bool:
    """Whether lists and objects lie in each other more than so deep."""
    level = [document]
    for _ in range(most):
        level = [item for node in level if isinstance(node, dict | list) for item in (node.values() if isinstance(node, dict) else node)]
    return any(isinstance(node, dict | list) for node in level)


def patch(node: Any, path: list) -> None:
    """Puts what stands in for it in the place of a misshapen part, or takes it out."""
    for part in path[:-1]:
        node = node[part] if (isinstance(node, dict) and part in node) or isinstance(node, list) else {}
    last = path[-1] if path else None
    if isinstance(node, dict) and last in _STAND_IN:
        node[last] = _STAND_IN[last]
    elif isinstance(node, dict):
        node.pop(last, None)
    elif isinstance(node, list) and isinstance(last, int):
        node[last] = {"analyte": "pH", "value": 7}


def is_in_document(part: object) -> bool:
    """Whether a part of pydantic's path stands in the document, rather than naming a member of a union."""
    return part not in ("float", "int", "str") and not str(part).startswith("list[")


_MENDS = {
    "missing": "add it",
    "extra_forbidden": "take it out, or check its spelling",
    "literal_error": "use one of the listed words",
    "date_from_datetime_parsing": "write the date as 2026-10-05",
    "date_parsing": "write the date as 2026-10-05",
}


def shape_error(item: dict) -> RuleError:
    """One of pydantic's faults in the words of this house."""
    parts = [str(part) for part in item["loc"] if is_in_document(part)]
    return RuleError(
        ".".join(parts) or "request",
        item.get("input") if item["type"] != "missing" else None,
        item["msg"][0].lower() + item["msg"][1:],
        _MENDS.get(item["type"], "check the form in docs/plan-format.md"),
    )
