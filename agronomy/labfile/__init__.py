"""From a laboratory's file to lines with analyte, unit, method and sample; doubts beside each.

May import base to interpret.
"""

from agronomy.labfile.effort import effort
from agronomy.labfile.lines import Line, Remark, lines_of
from agronomy.labfile.understanding import Understanding, understand

__all__ = ["Line", "Remark", "Understanding", "effort", "lines_of", "understand"]
