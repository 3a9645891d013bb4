"""Remakes docs/screenshots from the demo holdings, on a server of its own."""

import os
import re
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
SHOTS = ROOT / "docs" / "screenshots"


def free_port() -> int:
    """A port that nobody listens on: pictures of another server that runs here would be of other code and data."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


PORT = free_port()
BASE = f"http://127.0.0.1:{PORT}"
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
LAB_FILE = """Fenwick Soil Room;;;;;
Report 4711;;;;;

Sample;Date;pH;P (Olsen) mg/kg;K mg/kg;Mg
Long Border 7;03.10.2026;5,8;22;340000;41
Tulip bed;03.10.2026;52;<1;66;88
Herb corner;03.10.2026;6,1;ND;70;55
"""
WIDE, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


def serve(folder: str) -> subprocess.Popen:
    environment = os.environ | {"IRON_RAKE_VAR": folder}
    subprocess.run([sys.executable, "tools/demo.py", "--no-serve"], cwd=ROOT, env=environment, check=True, capture_output=True)
    server = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "gunicorn",
            "web.config.wsgi",
            "--bind",
            f"127.0.0.1:{PORT}",
            "--log-level",
            "warning",
            "--no-control-socket",
        ],
        cwd=ROOT,
        env=environment,
    )
    for _ in range(100):
        try:
            urllib.request.urlopen(BASE, timeout=1)
        except OSError:
            time.sleep(0.1)
        else:
            return server
    raise SystemExit("the server did not start")


def sign_in(page: Page) -> None:
    page.goto(f"{BASE}/sign-in/")
    page.get_by_label("Email").fill("wilma@thornmere.example")
    page.get_by_label("Password").fill("level-the-rake")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("heading", name="Today").wait_for()


def shoot(page: Page, name: str, *, full: bool = False) -> None:
    page.wait_for_load_state("networkidle")
    page.screenshot(path=SHOTS / f"{name}.png", full_page=full)


def main() -> None:
    SHOTS.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = serve(folder)
        try:
            browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
            tour(browser.new_page(viewport=WIDE), browser.new_page(viewport=PHONE))
            browser.close()
        finally:
            server.terminate()
            server.wait()


def tour(page: Page, phone: Page) -> None:
    page.goto(BASE)
    shoot(page, "welcome")
    sign_in(page)
    shoot(page, "today")
    page.goto(f"{BASE}/ground/?q=Long Border 7")
    page.get_by_role("link", name="Long Border 7", exact=True).last.click()
    shoot(page, "bench")
    bench = page.url
    plot = bench.rstrip("/").rsplit("/", 1)[1]
    ground(page, plot)
    readings(page, plot, bench)
    schools(page)
    bags(page)
    sheet(page)
    sign_in(phone)
    phone.goto(bench)
    shoot(phone, "bench-phone")
    phones(phone)


def ground(page: Page, plot: str) -> None:
    page.goto(f"{BASE}/ground/board/?at=32,30&across=60&plot={plot}")
    shoot(page, "board")
    page.goto(f"{BASE}/samples/")
    page.get_by_role("link", name="Autumn round").click()
    page.locator("a.code").first.click()
    shoot(page, "sample")


def readings(page: Page, plot: str, bench: str) -> None:
    page.goto(bench)
    page.get_by_role("link", name="Readings", exact=True).last.click()
    page.get_by_role("link", name="New reading").click()
    page.get_by_label("Potassium, value").fill("68")
    page.get_by_label("Potassium, unit").select_option("%")
    page.get_by_text("Did you mean mg/kg?").wait_for()
    shoot(page, "slip")
    page.goto(f"{BASE}/readings/files/")
    page.get_by_label("The laboratory's file").set_input_files(
        {"name": "fenwick-4711.csv", "mimeType": "text/csv", "buffer": LAB_FILE.encode()}
    )
    page.get_by_label("Laboratory", exact=True).fill("Fenwick Soil Room")
    page.get_by_role("button", name="Look it over").click()
    page.get_by_role("heading", name="What we understood").wait_for()
    shoot(page, "file", full=True)
    page.goto(f"{BASE}/sensors/")
    shoot(page, "sensors")


def schools(page: Page) -> None:
    page.goto(f"{BASE}/ground/?q=Barley, north")
    page.get_by_role("link", name="Barley, north zone", exact=True).last.click()
    page.get_by_role("link", name="Compare", exact=True).click()
    page.get_by_role("link", name="Approaches to fertilizing").click()
    shoot(page, "schools")
    number = page.url.rstrip("/").split("/")[-2]
    page.goto(f"{BASE}/readings/plot/{number}/")
    shoot(page, "chart")
    page.goto(f"{BASE}/desks/plot/{number}/hungry/?with=meter&place=in+time&meter=44&strip=50.6")
    shoot(page, "hungry")
    page.goto(f"{BASE}/trials/")
    page.get_by_role("link", name="Sulfur with the nitrogen").click()
    shoot(page, "trial", full=True)


def bags(page: Page) -> None:
    page.goto(f"{BASE}/ground/?q=Hop yard")
    page.get_by_role("link", name="Hop yard", exact=True).last.click()
    page.get_by_role("link", name="Compare", exact=True).click()
    page.get_by_role("link", name="Other bags for the same needs").click()
    page.get_by_role("heading", name="Between the aims").scroll_into_view_if_needed()
    page.evaluate("window.scrollBy(0, 500)")
    shoot(page, "bags")
    page.goto(f"{BASE}/plans/holding/")
    shoot(page, "holding")
    page.goto(f"{BASE}/jobs/")
    shoot(page, "jobs")
    page.goto(
        f"{BASE}/desks/tank/?material=epsom_salt&rate=6&material=urea&rate=2&way=leaf&area=900+m2&water=400&tank=15+L&ec=0.4&tender=on"
    )
    shoot(page, "tank")


def sheet(page: Page) -> None:
    page.goto(f"{BASE}/plans/")
    page.get_by_role("link", name="Sheet for Long Border 7").click()
    page.emulate_media(media="print")
    page.set_viewport_size({"width": 794, "height": 1123})
    shoot(page, "sheet")
    page.emulate_media(media="screen")
    page.set_viewport_size(WIDE)


def phones(phone: Page) -> None:
    phone.goto(f"{BASE}/readings/kits/")
    phone.get_by_role("button", name="Hedgerow Four: pH", exact=True).click()
    colours = phone.get_by_role("heading", name="Which colour is it?")
    while not colours.count():  # nobody waits out the kit's own time for a picture
        phone.get_by_role("button", name=re.compile("Done, next step|Go on all the same")).click()
        phone.wait_for_load_state()
    shoot(phone, "kit-phone")


if __name__ == "__main__":
    main()
