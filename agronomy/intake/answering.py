"""A request document answered by a plan document: what the command line, the web and its API have in common."""

from typing import Any

from agronomy.base.errors import RequestError, RuleError
from agronomy.intake.documents import plan_to_document
from agronomy.intake.request import read_request
from agronomy.plan.plan import make_plan
from agronomy.tables import Tables


def plan_document(document: Any, tables: Tables, *, workings: bool = True) -> dict[str, Any]:
    """The plan for one request document, as a document. Raises RequestError."""
    return plan_to_document(make_plan(read_request(as_request(document), tables), tables), workings=workings)


def as_request(document: Any) -> dict[str, Any]:
    """The document, if it can be a request. Raises RequestError."""
    if not isinstance(document, dict):
        raise RequestError([RuleError("request", str(document)[:40], "a request is a JSON object", "see docs/plan-format.md")])
    return document


def errors_document(error: RequestError) -> dict[str, Any]:
    return {"errors": [item.as_dict() for item in error.errors]}
