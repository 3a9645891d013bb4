"""Hypothesis draws the same examples every time, so that a red run can be repeated; `make test` is no lottery."""

from hypothesis import settings

settings.register_profile("steady", derandomize=True, deadline=None)
settings.load_profile("steady")
