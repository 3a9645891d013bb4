"""How gunicorn serves: with one worker for long work beside it, started and stopped with the server.

Set IRON_RAKE_WORKER=0 where the worker is a service of its own (docs/operations.md).
"""

import os
import subprocess
import sys

threads = 4
loglevel = "warning"
_started: list[subprocess.Popen] = []


def when_ready(server) -> None:
    """Starts the worker once the address is taken."""
    if os.environ.get("IRON_RAKE_WORKER", "1") == "1":
        _started.append(subprocess.Popen([sys.executable, "-m", "web.config.worker"], stdin=subprocess.DEVNULL))


def on_exit(server) -> None:
    """Stops the worker; what it was at is done again by the next (each step stands by itself)."""
    for worker in _started:
        worker.terminate()
