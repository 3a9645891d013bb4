"""Remakes docs/screenshots from the demo holdings, on a server of its own."""

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
SHOTS = ROOT / "docs" / "screenshots"
PORT = 8765
BASE = f"http://127.0.0.1:{PORT}"
CHROMIUM = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"]
WIDE, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


def serve(folder: str) -> subprocess.Popen:
    environment = os.environ | {"IRON_RAKE_VAR": folder}
    subprocess.run([sys.executable, "tools/demo.py", "--no-serve"], cwd=ROOT, env=environment, check=True, capture_output=True)
    server = subprocess.Popen(
        [sys.executable, "-m", "gunicorn", "web.config.wsgi", "--bind", f"127.0.0.1:{PORT}", "--log-level", "warning", "--no-control-socket"],
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
    page.get_by_role("heading", name="Ground").wait_for()


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
    shoot(page, "ground")
    page.get_by_role("link", name="Long Border 7").click()
    shoot(page, "bench")
    bench = page.url
    page.get_by_role("link", name="show the working of dolomitic ground limestone").click()
    page.locator(".working li").first.wait_for()
    page.locator(".job").first.scroll_into_view_if_needed()
    shoot(page, "working")
    page.goto(bench)
    page.get_by_role("link", name="New reading").click()
    page.get_by_label("Potassium, value").fill("68")
    page.get_by_label("Potassium, unit").select_option("%")
    page.get_by_text("Did you mean mg/kg?").wait_for()
    shoot(page, "slip")
    page.goto(f"{BASE}/readings/")
    shoot(page, "readings")
    page.goto(f"{BASE}/plans/")
    page.get_by_role("link", name="Sheet for Long Border 7").click()
    page.emulate_media(media="print")
    page.set_viewport_size({"width": 794, "height": 1123})
    shoot(page, "sheet")
    page.emulate_media(media="screen")
    page.set_viewport_size(WIDE)
    page.goto(f"{BASE}/ground/new/")
    shoot(page, "plot-form")
    sign_in(phone)
    phone.goto(bench)
    shoot(phone, "bench-phone")
    phone.goto(f"{BASE}/readings/new/")
    shoot(phone, "slip-phone")


if __name__ == "__main__":
    main()
