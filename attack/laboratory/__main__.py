"""Draws laboratory files of a seed and reads them all: `python -m attack.laboratory --files 5000`."""

import argparse
import subprocess
import sys
import tempfile
from pathlib import Path

HERE = Path(__file__).parent


def seed_of_the_commit() -> int:
    """A seed drawn from the commit that is checked out; one of our own where there is none."""
    told = subprocess.run(["git", "rev-parse", "HEAD"], capture_output=True, text=True, check=False, cwd=HERE)
    return int(told.stdout[:6], 16) if told.returncode == 0 and told.stdout.strip() else 40_127


def draw(folder: Path, *, files: int, seed: int) -> None:
    """Writes files and their truths into a folder."""
    asked = [sys.executable, str(HERE / "make_files.py"), "--count", str(files), "--seed", str(seed), "--out", str(folder)]
    subprocess.run(asked, check=True, cwd=HERE.parents[1])


def check(folder: Path, *, findings: Path) -> str:
    """Reads the files of a folder, writes all findings as JSON, and gives what was said of them."""
    asked = [sys.executable, str(HERE / "check_files.py"), str(folder), "--json", str(findings)]
    return subprocess.run(asked, check=False, cwd=HERE.parents[1], capture_output=True, text=True).stdout


def main() -> int:
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--files", type=int, default=5000)
    asked.add_argument("--seed", type=int, default=0, help="another seed than the commit's")
    args = asked.parse_args()
    seed = args.seed or seed_of_the_commit()
    with tempfile.TemporaryDirectory() as held:
        draw(Path(held) / "files", files=args.files, seed=seed)
        told = check(Path(held) / "files", findings=Path(held) / "findings.json")
    print(f"seed {seed}\n{told}")
    return 1 if "SILENTLY MISREAD 0 " not in told else 0


if __name__ == "__main__":
    sys.exit(main())
