"""The rules of the job: readings in, a reasoned plan out. Pure Python: no web, no clock, no network."""

__version__ = "0.1.0"
