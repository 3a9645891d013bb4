"""Hypothesis draws the same examples every time, and every working that any test makes is reckoned again from what it shows."""

import pytest
from hypothesis import settings

from agronomy.base.working import Step
from tests.helpers.workings import fault_of

settings.register_profile("steady", derandomize=True, deadline=None)  # a red run can be repeated; `make test` is no lottery
settings.load_profile("steady")


@pytest.fixture(autouse=True, scope="session")
def honest_workings():
    """Refuses a step whose formula, reckoned from its shown inputs, is not its shown result."""
    made = Step.__init__

    def checked(self, *args, **kwargs):
        made(self, *args, **kwargs)
        fault = fault_of(self)
        assert fault is None, fault

    Step.__init__ = checked
    yield
    Step.__init__ = made
