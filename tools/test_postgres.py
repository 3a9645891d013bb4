"""Runs the suite on PostgreSQL: a cluster in a folder that goes away, started and stopped here. `make test-postgres`.

Debian's postgresql is installed where it is missing. Arguments go to pytest.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
PORT = "54391"


def _binaries() -> Path | None:
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/pg_ctl"))
    return found[-1].parent if found else None


def _as_postgres(*command: str) -> None:
    """PostgreSQL does not run as root: then as Debian's own user for it."""
    way = ["runuser", "-u", "postgres", "--"] if os.geteuid() == 0 else []
    subprocess.run([*way, *command], check=True, stdout=subprocess.DEVNULL, cwd="/")


def main() -> int:
    if _binaries() is None:
        subprocess.run(["apt-get", "install", "-y", "--no-install-recommends", "postgresql"], check=True, stdout=subprocess.DEVNULL)
    tools = _binaries()
    if tools is None:
        print("There is no PostgreSQL here: install Debian's postgresql.")
        return 1
    folder = Path(tempfile.mkdtemp(prefix="rake-postgres-"))
    try:
        if os.geteuid() == 0:
            shutil.chown(folder, "postgres")
        data, options = str(folder / "data"), f"-k {folder} -p {PORT} -c listen_addresses=127.0.0.1 -c fsync=off"
        _as_postgres(str(tools / "initdb"), "-D", data, "-U", "rake", "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8")
        _as_postgres(str(tools / "pg_ctl"), "-D", data, "-o", options, "-l", str(folder / "log"), "-w", "start")
        try:
            address = f"postgres://rake@127.0.0.1:{PORT}/postgres"
            environment = os.environ | {"DATABASE_URL": address, "ATTACK_DATABASE_URL": address}
            command = [sys.executable, "-m", "pytest", *(sys.argv[1:] or ["-n", "2", "tests/web", "tests/browser", "tests/test_attack.py"])]
            return subprocess.run(command, cwd=ROOT, env=environment, check=False).returncode
        finally:
            _as_postgres(str(tools / "pg_ctl"), "-D", data, "-m", "immediate", "stop")
    finally:
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    sys.exit(main())
