"""A figure of the trade changes on purpose or not at all: what the tables held when they were last looked at is written down."""

import json

from tools.seal_tables import SEAL, seals


def test_no_figure_of_a_table_changed_by_accident():
    sealed = json.loads(SEAL.read_text(encoding="utf-8"))
    changed = sorted({file for file, digest in {**sealed, **seals()}.items() if sealed.get(file) != seals().get(file) and digest})
    assert not changed, f"figures changed in {', '.join(changed)}: say in CHANGELOG.md whose numbers move, then `make seal`"
