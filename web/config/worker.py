"""Keeps a worker for long work going: `python -m web.config.worker`. One that stops by itself is started again a moment later."""

import signal
import subprocess
import sys
import time

AGAIN_S = 2.0
COMMAND = [sys.executable, "manage.py", "db_worker", "-v", "0", "--no-reload"]


def keep_going() -> None:
    """Runs workers one after another until this process is told to end; the one at work then finishes its step."""
    worker: subprocess.Popen | None = None
    is_over = False

    def end(*_) -> None:
        nonlocal is_over
        is_over = True
        if worker is not None:
            worker.terminate()

    signal.signal(signal.SIGTERM, end)
    signal.signal(signal.SIGINT, end)
    while not is_over:
        worker = subprocess.Popen(COMMAND, stdin=subprocess.DEVNULL)  # noqa: S603 -- our own command
        worker.wait()
        if not is_over:
            time.sleep(AGAIN_S)


if __name__ == "__main__":
    keep_going()
