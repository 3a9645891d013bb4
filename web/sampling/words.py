"""Samples in the reader's words and units."""

from agronomy.base import showing
from web.sampling.models import Sample


def layer(sample: Sample, units: str) -> str:
    """The layer of a sample in the reader's units."""
    top, bottom = (showing.depth(cm, units) if cm else "0" for cm in (sample.top_cm, sample.bottom_cm))
    return f"{top} to {bottom}"
