"""Laboratories' files: bytes in, readings out. `understand` tells what the file is, `lines_of` gives its readings."""

from agronomy.labfile.lines import Line, Remark, lines_of
from agronomy.labfile.understanding import Understanding, understand

__all__ = ["Line", "Remark", "Understanding", "lines_of", "understand"]
