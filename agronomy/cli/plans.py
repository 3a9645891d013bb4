"""Many plans at once: requests a line in, plans a line out, by all processors, in order, however long the file is.

Lines go to the workers in packets, and only a few packets are under way at a time: memory stays flat, and a slow reader of the plans slows
the work instead of piling it up.
"""

import os
from collections import deque
from collections.abc import Iterable, Iterator
from concurrent.futures import Future, ProcessPoolExecutor
from itertools import islice
from multiprocessing import get_context
from typing import Any

import orjson

from agronomy.base.collector import spare_the_collector
from agronomy.base.errors import RequestError, RuleError
from agronomy.intake.answering import as_request, errors_document
from agronomy.intake.documents import plan_to_document
from agronomy.intake.request import read_request
from agronomy.model.request import Request
from agronomy.plan.plan import make_plans
from agronomy.tables import Tables, load_tables

LINES_A_PACKET = 64
PACKETS_A_WORKER = 3


def planned_lines(lines: Iterable[bytes], *, workings: bool = True, processes: int | None = None) -> Iterator[bytes]:
    """A plan's JSON for each line of JSON, in order; a bad line gives an error object in its place and the rest go on.

    `processes`: None takes all processors; with one, or little to do, the work stays in this process.
    """
    wanted = (line for line in lines if line.strip())
    first = list(islice(wanted, LINES_A_PACKET))
    workers = processes or (len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1)
    load_tables()  # before the workers are forked, so that they share it
    if workers == 1 or len(first) < LINES_A_PACKET:
        yield from _in_here(first, wanted, workings)
        return
    context = get_context("fork" if hasattr(os, "fork") else None)
    with ProcessPoolExecutor(workers, mp_context=context, initializer=spare_the_collector) as pool:
        under_way: deque[Future[list[bytes]]] = deque([pool.submit(_packet, first, workings)])
        while packet := list(islice(wanted, LINES_A_PACKET)):
            under_way.append(pool.submit(_packet, packet, workings))
            if len(under_way) >= workers * PACKETS_A_WORKER:
                yield from under_way.popleft().result()
        while under_way:
            yield from under_way.popleft().result()


def _in_here(first: list[bytes], rest: Iterable[bytes], workings: bool) -> Iterator[bytes]:
    packet = first
    while packet:
        yield from _packet(packet, workings)
        packet = list(islice(rest, LINES_A_PACKET))


def _packet(lines: list[bytes], workings: bool) -> list[bytes]:
    """All lines stage by stage, not each line through all stages: see make_plans."""
    tables = load_tables()
    requests = [_request_or_errors(line, tables) for line in lines]
    plans = iter(make_plans([request for request in requests if isinstance(request, Request)], tables))
    documents = [plan_to_document(next(plans), workings=workings) if isinstance(item, Request) else item for item in requests]
    return [orjson.dumps(document) for document in documents]


def _request_or_errors(line: bytes, tables: Tables) -> Request | dict[str, Any]:
    """The request of a line, or the document of its errors."""
    try:
        return read_request(as_request(_parsed(line)), tables)
    except RequestError as error:
        return errors_document(error)


def _parsed(line: bytes) -> Any:
    """The line's JSON. Raises RequestError."""
    try:
        return orjson.loads(line)
    except orjson.JSONDecodeError as error:
        wrong = RuleError("request", line[:40].decode(errors="replace"), f"this is not JSON: {error}", "check quotes, commas and brackets")
        raise RequestError([wrong]) from None
