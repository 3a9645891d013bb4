"""Copies the database while the server runs, by SQLite's own online backup; `--restore FILE` puts a copy back."""

import argparse
import os
import sqlite3
from datetime import datetime
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def copy(source: Path, target: Path) -> None:
    """Copies a whole SQLite database, consistent even while others write to it."""
    with sqlite3.connect(source) as reading, sqlite3.connect(target) as writing:
        reading.backup(writing)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--restore", type=Path, help="a backup to put back (stop the server first)")
    args = parser.parse_args()
    folder = Path(os.environ.get("IRON_RAKE_VAR", ROOT / "var"))
    database = folder / "iron_rake.sqlite3"
    if args.restore:
        copy(args.restore, database)
        print(f"{args.restore} is back in place")
        return
    target = folder / "backups" / f"iron_rake-{datetime.now():%Y%m%d-%H%M%S}.sqlite3"
    target.parent.mkdir(parents=True, exist_ok=True)
    copy(database, target)
    print(f"copied to {target}")


if __name__ == "__main__":
    main()
