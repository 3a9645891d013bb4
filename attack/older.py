"""Databases of earlier commits, with their demo loaded, migrate to today's and keep their rows; every plot's page then answers.

`make attack PARTS=older`. Wants the repository's history; where there is none it says so and tries nothing.
"""

import argparse
import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from attack.place import ROOT, report

# Names of tables then and now: rows of these must be as many after the migration as before it.
KEPT = (("ground_plot",), ("ground_planting",), ("readings_soilslip", "readings_labreport"), ("readings_result", "readings_labresult"))


def git(*words: str) -> str:
    return subprocess.run(["git", *words], cwd=ROOT, check=True, capture_output=True, text=True).stdout


def commits(count: int) -> list[str]:
    """So many commits, spread over the history since the demo could be loaded."""
    since = git("log", "--reverse", "--format=%h", "--", "web/**/load_demo.py").split()
    history = git("log", "--first-parent", "--reverse", "--format=%h", f"{since[0]}..HEAD").split() if since else []
    return [history[number * len(history) // count] for number in range(min(count, len(history)))]


def rows(database: Path) -> dict[str, int]:
    """How many rows each table that must be kept has, by its name of today."""
    with closing(sqlite3.connect(database)) as reading:
        there = {name for (name,) in reading.execute("select name from sqlite_master where type = 'table'")}
        found = {names[-1]: next((name for name in names if name in there), None) for names in KEPT}
        return {now: reading.execute(f"select count(*) from {name}").fetchone()[0] for now, name in found.items() if name}  # noqa: S608


def manage(place: Path, var: Path, *words: str) -> None:
    """A command of that commit's own; what it writes is shown where it fails."""
    env = os.environ | {"IRON_RAKE_VAR": str(var), "DATABASE_URL": ""}
    done = subprocess.run([sys.executable, "manage.py", *words], cwd=place, env=env, check=False, capture_output=True, text=True)
    if done.returncode:
        raise RuntimeError(f"{words[0]}: {done.stderr.strip().splitlines()[-1:]}")


PAGES = """
from django.test import Client
from web.ground.models import Plot
for plot in Plot.objects.all():
    reader = Client(raise_request_exception=False)
    reader.force_login(plot.holding.members.filter(memberships__role="owner").first())
    for address in (f"/plans/plot/{plot.pk}/", f"/plots/{plot.pk}/readings/", f"/plots/{plot.pk}/history/"):
        assert reader.get(address).status_code == 200, address
"""


def tried(commit: str, folder: Path) -> str:
    """What became of a database of one commit: "kept", or what went wrong."""
    place, var = folder / commit, folder / f"var-{commit}"
    git("worktree", "add", "--detach", "--force", str(place), commit)
    try:
        var.mkdir()
        manage(place, var, "migrate", "-v", "0")
        manage(place, var, "load_demo")
        database = var / "iron_rake.sqlite3"
        before = rows(database)
        manage(ROOT, var, "migrate", "-v", "0")
        after = rows(database)
        if not before.get("ground_plot") or any(after[name] < count for name, count in before.items()):
            return f"{before} became {after}"
        manage(ROOT, var, "collectstatic", "--noinput", "-v", "0")
        manage(ROOT, var, "shell", "-v", "0", "-c", PAGES)
    except RuntimeError as error:
        return str(error)
    finally:
        git("worktree", "remove", "--force", str(place))
    return "kept"


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--commits", type=int, default=8)
    args = parser.parse_args()
    try:
        chosen = commits(args.commits)
    except (OSError, subprocess.CalledProcessError):
        chosen = []
    if not chosen:
        print("there is no history here, so nothing was tried")
        return 0
    with tempfile.TemporaryDirectory() as folder:
        found = [(f"database of commit {commit}", tried(commit, Path(folder)), "kept") for commit in chosen]
    return 0 if report("Earlier databases", found) else 1


if __name__ == "__main__":
    sys.exit(main())
