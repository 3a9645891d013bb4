"""Sets up a database with the demo holdings, serves it, and says where and as whom."""

import argparse
import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent


def manage(*words: str, quiet: bool = True) -> str:
    done = subprocess.run([sys.executable, "manage.py", *words], cwd=ROOT, check=True, capture_output=quiet, text=True)
    return done.stdout or ""


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--no-serve", action="store_true", help="set up and load only")
    args = parser.parse_args()
    # the demo keeps to a folder of its own, so that it never touches a holding in earnest
    os.environ.setdefault("IRON_RAKE_VAR", str(ROOT / "var" / "demo"))
    os.environ.setdefault("IRON_RAKE_FORECAST", "standins.weather:PretendedForecast")  # pretended, and said so wherever it shows
    manage("migrate", "-v", "0")
    manage("collectstatic", "--noinput", "-v", "0")
    sign_ins = manage("load_demo")
    print(f"\nIron Rake is at http://127.0.0.1:{args.port}/\n\n{sign_ins}\nStop it with Ctrl+C.", flush=True)
    if not args.no_serve:
        os.chdir(ROOT)
        server = [
            sys.executable,
            "-m",
            "gunicorn",
            "web.config.wsgi",
            "--bind",
            f"127.0.0.1:{args.port}",
            "--config",
            "python:web.config.serving",
            "--no-control-socket",
        ]
        os.execv(sys.executable, server)  # noqa: S606 -- the same interpreter, no shell


if __name__ == "__main__":
    main()
