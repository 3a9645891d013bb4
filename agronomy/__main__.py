"""`python -m agronomy …`: see docs/plan-format.md."""

import os
import sys

from agronomy.cli.main import main

# The solver behind the choice of bags now and then prints a line of its own: documents keep standard output to themselves.
sys.stdout = os.fdopen(os.dup(1), "w", encoding="utf-8")
os.dup2(2, 1)
sys.exit(main(sys.argv[1:]))
