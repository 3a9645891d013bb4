"""Headless Chromium against a live server with a database of its own."""

import os
from contextlib import contextmanager
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
    slip(plot(thornmere, "Quiet bed", crop="broad_beans", texture="loam"), [("pH", "6.6", "", "water 1:1")])
    plot(thornmere, "Bare bed")
    return thornmere


class Watch:
    """Hears whatever the browser complains of: policy breaches, script errors, missing files.

    Browsers word their complaints as they like, so none is told by its words: one of an answer that a page gives on purpose is known by
    its address, and one of a missing net by the test that took the net away.
    """

    ON_PURPOSE = (404, 409, 422)
    DROPPED = ("htmx:sendAbort", "htmx:afterRequest")  # our own library's: an answer that a later choice made needless

    def __init__(self, page):
        self._context = page.context
        self._heard: list[tuple[str, str]] = []
        self._answered: set[str] = set()
        self._has_a_net = True
        page.on("pageerror", lambda error: self._heard.append((str(error), "")))
        page.on("console", self._hear)
        page.on("response", lambda answer: self._answered.add(answer.url) if answer.status in self.ON_PURPOSE else None)

    def _hear(self, message) -> None:
        if message.type == "error" and self._has_a_net:
            self._heard.append((message.text, message.location["url"]))

    @contextmanager
    def without_a_net(self):
        """Takes the net away from the page; what the browser says of that is expected."""
        self._has_a_net = False
        self._context.set_offline(True)
        yield
        self._context.set_offline(False)
        self._has_a_net = True

    def unexpected(self) -> list[str]:
        return [text for text, of in self._heard if of not in self._answered and not text.startswith(self.DROPPED)]


@pytest.fixture
def complaints(page):
    """What a browser may not complain of."""
    watch = Watch(page)
    yield watch
    assert watch.unexpected() == []


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
