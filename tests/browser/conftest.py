"""Headless Chromium against a live server with a database of its own."""

import os
from pathlib import Path

import pytest
from django.test import Client

from tests.helpers.holdings import holding, owner, plot, slip

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")  # Playwright's sync door runs an event loop beside Django's ORM
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
AXE = Path(__file__).parent.parent / "vendor" / "axe-core" / "axe.min.js"


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return {"executable_path": "/usr/bin/chromium", "args": CHROMIUM, "headless": True}


@pytest.fixture
def house(transactional_db):
    """Thornmere with an acid border and a quiet bed."""
    thornmere = holding("Thornmere")
    slip(plot(thornmere))
    slip(plot(thornmere, "Quiet bed", crop="beans", texture="loam"), [("pH", "6.6", "", "water 1:1")])
    plot(thornmere, "Bare bed")
    return thornmere


@pytest.fixture
def complaints(page):
    """Whatever the browser complains of: policy breaches, script errors, missing files."""
    heard = []
    page.on("pageerror", lambda error: heard.append(str(error)))
    page.on("console", lambda message: heard.append(message.text) if message.type == "error" else None)
    yield heard
    dropped = ("htmx:sendAbort", "htmx:afterRequest")  # an answer that a later choice made needless
    assert not [text for text in heard if not any(told in text for told in ("422", "404", "409")) and not text.startswith(dropped)]


@pytest.fixture
def signed_in(page, live_server, house, complaints):
    """Thornmere's owner on the ground page. Signing in by hand is done in test_front_journeys.py; here it only takes time."""
    client = Client()
    client.force_login(owner(house))
    page.context.add_cookies([{"name": "sessionid", "value": client.cookies["sessionid"].value, "url": live_server.url}])
    page.goto(live_server.url + "/ground/")
    page.get_by_role("heading", name="Ground").wait_for()
    return page


STYLES = "() => [...new Set([...document.querySelectorAll('*')].map(one => `${one.tagName} ${one.getAttribute('class') || ''}`))]"
seen_by_night: set[str] = set()


@pytest.fixture
def axe():
    """Runs axe-core on a page; returns what it finds, with the places. Its contrasts are looked at once more at night, where the page
    has kinds of elements that no page had before.
    """

    def run(page) -> list[str]:
        # evaluated by the test driver, which the page's content policy doesn't bind
        page.evaluate(AXE.read_text(encoding="utf-8"))
        found = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")["violations"]
        styles = set(page.evaluate(STYLES))
        if not styles <= seen_by_night:
            page.emulate_media(color_scheme="dark", reduced_motion="reduce")  # a colour on its way is nobody's
            found += page.evaluate("() => axe.run(document, {runOnly: ['color-contrast'], resultTypes: ['violations']})")["violations"]
            page.emulate_media(color_scheme="light")
            seen_by_night.update(styles)
        return [f"{item['id']}: {[node['target'] for node in item['nodes']][:3]}" for item in found]

    return run
