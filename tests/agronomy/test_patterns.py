"""No pattern over foreign text takes longer than in proportion to it: each is fed with what it repeats itself."""

import contextlib
import gc
import signal
import time

import pytest

from agronomy.base.errors import RuleError
from agronomy.labfile.understanding import understand
from agronomy.tables import load_tables
from tests.helpers.patterns import patterns_of, stutters

SMALL, MIDDLE, LARGE = 4096, 16384, 65536
TOO_LONG_S = 2.0  # of processor time: a pattern that grows in a line takes a few thousandths for the largest
SLOW_S = 0.1  # below this a ratio of two times says nothing
FOUND = sorted({(one.act, one.pattern): one for one in patterns_of("agronomy", "web")}.values(), key=lambda one: one.where)


class _TooLong(Exception):
    pass


def _stop(*_):
    raise _TooLong


@pytest.fixture(autouse=True)
def _without_collector():
    """A walk of the collector through all tables takes as long as what is measured here."""
    gc.disable()
    yield
    gc.enable()


def _timed(found, text: str) -> float:
    signal.setitimer(signal.ITIMER_VIRTUAL, TOO_LONG_S)
    took = found.cpu_s(text)
    signal.setitimer(signal.ITIMER_VIRTUAL, 0)
    return took


def _is_in_a_line(times: list[float]) -> bool:
    """Four times the text: a line takes four times as long, a square sixteen times."""
    return times[2] < SLOW_S or times[2] < 8 * max(times[1], SLOW_S / 8)


@pytest.mark.parametrize("found", FOUND, ids=lambda one: f"{one.where}-{one.act}")
def test_a_pattern_grows_in_a_line(found):
    handler = signal.signal(signal.SIGVTALRM, _stop)
    try:
        for small, middle, large in zip(*(stutters(found.pattern, size) for size in (SMALL, MIDDLE, LARGE)), strict=True):
            times = [_timed(found, text) for text in (small, middle, large)]
            if not _is_in_a_line(times):  # once more, for what another process took
                times = [min(before, _timed(found, text)) for before, text in zip(times, (small, middle, large), strict=True)]
            assert _is_in_a_line(times), (times, small[:60])
    except _TooLong:
        pytest.fail(f"{found.pattern.pattern!r} takes over {TOO_LONG_S} s for {small[:60]!r} again and again")
    finally:
        signal.setitimer(signal.ITIMER_VIRTUAL, 0)
        signal.signal(signal.SIGVTALRM, handler)


def test_the_walk_finds_patterns_in_code_and_at_the_head():
    assert len(FOUND) > 100
    assert {"match", "search", "sub", "findall", "split", "fullmatch"} <= {one.act for one in FOUND}


PIECES = [" ", "1", "a", "1.1 ", "(", ",", ";", "\t", "\n", "1,", "pH ", "pH: 6 ", "pH 6\n", ": ", "= ", "[", "-", "<", "A B\n", "é"]


@pytest.mark.parametrize("piece", PIECES)
def test_a_paste_is_read_in_proportion_to_its_length(piece):
    tables = load_tables()

    def cpu_s(size: int) -> float:
        began = time.process_time()
        with contextlib.suppress(RuleError):
            understand(f"pH{piece * (size // len(piece))}x".encode(), "paste.txt", tables)
        return time.process_time() - began

    cpu_s(SMALL)  # what is made once for all
    middle, large = cpu_s(MIDDLE), cpu_s(LARGE)
    assert large < SLOW_S or large < 8 * middle
