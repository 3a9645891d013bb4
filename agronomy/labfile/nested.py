"""A nested document (JSON or XML of a laboratory's system) as a table: names of keys are headings, a list makes rows."""

import re
from typing import Any
from xml.etree import ElementTree

from agronomy.base.errors import RuleError

DEEPEST = 12
_ENDS = tuple("|".join(words) for words in (("from", "top", "start", "upper", "min", "begin"), ("to", "bottom", "end", "lower", "max")))
Row = dict[str, str | int | float | None]


def rows_of(document: Any) -> list[Row]:
    """The rows of a document: each innermost object that holds values, with the values of what it lies in. Source: definition.

    >>> rows_of({"samples": [{"fieldName": "A1", "results": [{"name": "pH", "value": 6.2}, {"name": "K", "value": 80}]}]})
    [{'field name': 'A1', 'name': 'pH', 'value': 6.2}, {'field name': 'A1', 'name': 'K', 'value': 80}]
    >>> rows_of([{"sample": "A1", "results": {"P": {"value": 12, "unit": "mg/kg"}}}])
    [{'sample': 'A1', 'parameter': 'P', 'value': 12, 'unit': 'mg/kg'}]
    """
    return list(_walk(document, {}, 0))


def _walk(node: Any, above: Row, depth: int):
    if depth > DEEPEST:
        raise RuleError("file", "", "this document is nested deeper than results ever are", "ask for a table")
    if isinstance(node, list):
        for item in node:
            yield from _walk(item, above, depth + 1)
        return
    if not isinstance(node, dict):
        return
    names, lines = next(
        ((node[key], node.get("rows") or node.get("data")) for key in ("columns", "fields", "header") if key in node), (0, 0)
    )
    if isinstance(names, list) and isinstance(lines, list) and all(isinstance(line, list) for line in lines):
        node = {key: value for key, value in node.items() if value is not names and value is not lines}
        node["rows"] = [dict(zip(map(str, names), line, strict=False)) for line in lines]
    own = above | {_spoken(key): value for key, value in node.items() if not isinstance(value, dict | list)}
    _join_depth(own)
    inner = {key: value for key, value in node.items() if isinstance(value, dict | list) and value}
    parts = []
    for key, value in inner.items():
        if isinstance(value, list) and any(isinstance(item, dict) for item in value):
            parts.append(value)
        elif isinstance(value, dict) and (named := _by_name(value)):
            parts.append(named)
        elif isinstance(value, dict) and any(isinstance(item, dict | list) for item in value.values()):
            parts.append([value])
        elif isinstance(value, dict):
            own |= {f"{_spoken(key)} {_spoken(name)}": item for name, item in value.items()}
        else:
            own[_spoken(key)] = ", ".join(map(str, value))
    if not parts:
        yield own
    for part in parts:
        yield from _walk(part, own, depth + 1)


def _join_depth(own: Row) -> None:
    """Top and bottom in keys of their own become one depth, with its unit."""
    top, bottom = (next((key for key in own if re.fullmatch(rf"(sample )?depth ?({words})", key)), "") for words in _ENDS)
    if top and bottom:
        unit = own.get("depth unit") or "cm"
        own["depth"] = f"{own.pop(top)}-{own.pop(bottom)} {unit}"
        own.pop("depth unit", None)


def _by_name(node: dict) -> list[dict]:
    """What is told by its name: {"P": {"value": 12, "unit": "mg/kg"}}, as rows that carry the name."""
    if not all(
        isinstance(item, dict) and any("value" in str(key).lower() or "result" in str(key).lower() for key in item)
        for item in node.values()
    ):
        return []
    return [{"parameter": key} | item for key, item in node.items()]


def _spoken(key: Any) -> str:
    """A key as people write a heading: clientRef is client ref."""
    return re.sub(r"(?<=[a-z])(?=[A-Z][a-z])", " ", str(key)).replace("_", " ").lower() if re.search(r"[a-z]{2}", str(key)) else str(key)


def xml_of(text: str, name: str) -> Any:
    """An XML document as objects and lists: what comes several times is a list, attributes stand beside. Raises RuleError for one that
    declares entities, or is broken.
    """
    if "<!ENTITY" in text or "<!DOCTYPE" in text:
        raise RuleError("file", name, "this XML declares entities, which no results need", "save it without, or as CSV")
    try:
        root = ElementTree.fromstring(text)  # noqa: S314 -- no entity passes the line above
    except ElementTree.ParseError as error:
        raise RuleError("file", name, f"this XML is broken: {error}", "ask for it again, or for a table") from None
    return _plain(root, 0)


def _plain(node: ElementTree.Element, depth: int) -> Any:
    if depth > DEEPEST:
        raise RuleError("file", "", "this document is nested deeper than results ever are", "ask for a table")
    made: dict[str, Any] = {_bare(key): value for key, value in node.attrib.items()}
    for child in node:
        key, value = _bare(child.tag), _plain(child, depth + 1)
        if key in made:
            made[key] = [*made[key], value] if isinstance(made[key], list) else [made[key], value]
        else:
            made[key] = [value] if isinstance(value, dict) else value
    told = (node.text or "").strip()
    if not made:
        return told
    return made | {"value": told} if told else made


def _bare(tag: str) -> str:
    return tag.rpartition("}")[2]
