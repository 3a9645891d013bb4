"""The command `iron-rake`, and `python -m agronomy`: see docs/plan-format.md."""

import os
import sys

from agronomy.cli.main import main


def run() -> None:
    """Runs the command line and leaves with its exit code."""
    # The solver behind the choice of bags now and then prints a line of its own: documents keep standard output to themselves.
    sys.stdout = os.fdopen(os.dup(1), "w", encoding="utf-8")
    os.dup2(2, 1)
    try:
        sys.exit(main(sys.argv[1:]))
    except BrokenPipeError:  # whoever read the output has seen enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(1)
