"""`python -m agronomy …`: see docs/plan-format.md."""

import sys

from agronomy.batch import main

sys.exit(main(sys.argv[1:]))
