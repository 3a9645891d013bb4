"""`make attack`: many people logging at once on gunicorn, and the server killed in the middle of writes; nothing acknowledged may be lost
or doubled.
"""

import contextlib
import os
import re
import signal
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.parse
import urllib.request
import uuid
from http.client import HTTPException
from http.cookiejar import CookieJar
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
PORT, PEOPLE, JOBS_EACH, KILLS = 8791, int(os.environ.get("ATTACK_PEOPLE", "50")), 8, int(os.environ.get("ATTACK_KILLS", "20"))
BASE = f"http://127.0.0.1:{PORT}"
SETUP = """
import django; django.setup()
from datetime import date
from django.utils import timezone
from web.people.models import User, Holding, Membership
from web.ground.models import Plot
from web.jobs.models import Job
from web.supplies.models import StockLot
holding = Holding.objects.create(name='Soak')
plot = Plot.objects.create(holding=holding, name='Bed', area_m2=100, depth_cm=15)
StockLot.objects.create(holding=holding, material='urea', kg=100000)
for number in range({people}):
    user = User.objects.create_user(f'p{{number}}@soak.example', 'a-good-long-one')
    Membership.objects.create(user=user, holding=holding, role='worker')
today = timezone.localdate()
about = dict(holding=holding, plot=plot, material='urea', name='urea', what='N', kg=1, from_day=today, to_day=today)
Job.objects.bulk_create(Job(**about) for _ in range({jobs}))
print(' '.join(str(pk) for pk in Job.objects.values_list('pk', flat=True)), StockLot.objects.get().pk)
"""
COUNT = """
import django; django.setup()
from web.supplies.models import StockLot
from web.records.models import LogEntry
from web.jobs.models import Job
print(LogEntry.objects.count(), Job.objects.filter(state='done').count(), round(100000 - StockLot.objects.get().kg, 6))
print(' '.join(str(item) for item in LogEntry.objects.values_list('sent_as', flat=True)))
"""


def run(code: str, environment: dict) -> list[str]:
    command = [sys.executable, "-c", code]
    done = subprocess.run(command, cwd=ROOT, env=environment, check=True, capture_output=True, text=True)
    return done.stdout.strip().splitlines()


class Server:
    """gunicorn with several workers, started again after it was killed."""

    def __init__(self, environment: dict):
        self.environment = environment
        self.start()

    def start(self) -> None:
        command = [
            sys.executable,
            "-m",
            "gunicorn",
            "web.config.wsgi",
            "--bind",
            f"127.0.0.1:{PORT}",
            "--workers",
            "3",
            "--threads",
            "4",
            "--log-level",
            "error",
        ]
        self.process = subprocess.Popen(
            command, cwd=ROOT, env=self.environment, start_new_session=True, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        for _ in range(100):
            try:
                urllib.request.urlopen(f"{BASE}/sign-in/", timeout=1)  # noqa: S310
                return
            except OSError:
                time.sleep(0.1)
        self.kill()
        raise SystemExit("the server did not start")

    def kill(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


class Person(threading.Thread):
    """Signs in and does jobs one by one; what the server does not answer for is sent again under the same name, as a phone would."""

    def __init__(self, number: int, jobs: list[str], lot: str):
        super().__init__()
        self.number, self.jobs, self.lot = number, jobs, lot
        self.acknowledged: list[str] = []
        self.again = 0
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(CookieJar()))

    def call(self, address: str, data: dict | None = None) -> str:
        """One request; waits and tries again while the server is away."""
        body = urllib.parse.urlencode(data).encode() if data else None
        headers = {"Accept": "application/json", "Referer": BASE} if data else {}
        for _ in range(200):
            try:
                request = urllib.request.Request(BASE + address, body, headers)  # noqa: S310
                with self.opener.open(request, timeout=30) as answer:
                    return answer.read().decode()
            except urllib.error.HTTPError as error:
                if error.code < 500:
                    raise RuntimeError(f"{address} answered {error.code}: {error.read()[-700:]} at {error.url}") from error
            except (OSError, HTTPException):
                pass
            self.again += 1
            time.sleep(0.1)
        raise RuntimeError(f"no answer from {address}")

    def token(self, page: str) -> str:
        return re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', page).group(1)

    def sign_in(self) -> None:
        """Until it is done: an answer that a kill swallowed may have signed in already, and then the old form's token no longer serves."""
        while 'name="password"' in (page := self.call("/sign-in/")):
            data = {"username": f"p{self.number}@soak.example", "password": "a-good-long-one", "csrfmiddlewaretoken": self.token(page)}
            with contextlib.suppress(OSError, HTTPException):
                form = urllib.parse.urlencode(data).encode()
                self.opener.open(urllib.request.Request(f"{BASE}/sign-in/", form, {"Referer": BASE}), timeout=60)  # noqa: S310

    def run(self) -> None:
        self.sign_in()
        for job in self.jobs:
            page = self.call(f"/jobs/{job}/")
            name = str(uuid.uuid4())
            data = {
                "amount": "1 kg",
                "done_on": time.strftime("%Y-%m-%d"),
                "lot": self.lot,
                "sent_as": name,
                "csrfmiddlewaretoken": self.token(page),
            }
            if '"written": true' in self.call(f"/jobs/{job}/", data):
                self.acknowledged.append(name)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        environment = os.environ | {
            "IRON_RAKE_VAR": folder,
            "DATABASE_URL": "",
            "DJANGO_SETTINGS_MODULE": "web.config.settings",
            "PYTHONPATH": str(ROOT),
        }
        subprocess.run([sys.executable, "manage.py", "migrate", "-v", "0"], cwd=ROOT, env=environment, check=True)
        subprocess.run([sys.executable, "manage.py", "collectstatic", "--noinput", "-v", "0"], cwd=ROOT, env=environment, check=True)
        line = run(SETUP.format(people=PEOPLE, jobs=PEOPLE * JOBS_EACH), environment)[-1].split()
        jobs, lot = line[:-1], line[-1]
        server = Server(environment)
        people = [Person(number, jobs[number * JOBS_EACH : (number + 1) * JOBS_EACH], lot) for number in range(PEOPLE)]
        start = time.perf_counter()
        for person in people:
            person.start()
        for _ in range(KILLS):
            time.sleep(2.5)
            if any(person.is_alive() for person in people):
                server.kill()
                server.start()
        for person in people:
            person.join()
        seconds = time.perf_counter() - start
        server.kill()
        counts, names = [*run(COUNT, environment), ""][:2]
        entries, done, taken = counts.split()
        acknowledged = {name for person in people for name in person.acknowledged}
        written = names.split()
        lost, doubled = acknowledged - set(written), len(written) - len(set(written))
        again = sum(person.again for person in people)
        print(f"{PEOPLE} people, {len(jobs)} jobs in {seconds:.0f} s with {KILLS} kills and {again} requests sent again")
        print(
            f"acknowledged {len(acknowledged)}, entries {entries}, jobs done {done}, taken off the lot {taken} kg, lost {len(lost)}, "
            f"doubled {doubled}"
        )
        if lost or doubled or int(entries) != len(jobs) or float(taken) != len(jobs):
            raise SystemExit("records and stock do not agree")


if __name__ == "__main__":
    main()
