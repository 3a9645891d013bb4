"""Whatever a browser or a stranger sends, no address answers with 500: the names of all fields come from the code itself."""

import re
from pathlib import Path

import pytest
from django.conf import settings
from django.db import transaction
from django.test import Client
from django.urls import reverse

from tests.helpers.addresses import OWNED, PLAIN, SHARED, address
from tests.helpers.holdings import PASSWORD
from tests.helpers.pages import text_of
from web.people.models import User

WEB = Path(__file__).parents[2] / "web"
READ = re.compile(r"(?:GET|POST|query|asked|data)(?:\.get|\.getlist|\.pop)?[\[(]\"([\w.-]+)\"")
# over the most digits of a number (4,300) and the deepest nesting (1,000); all fields together must stay below what a form may weigh
MANGLED = ["²", "9" * 4400, "abc", "1e25", "9999-12-31", "x\x00y", "[" * 1500, "3;" * 700]
LEFT_OUT = {"account_logout", "account_change_password"}  # they end the session that asks


def _names() -> list[str]:
    """Every name that a view asks a request for, and every field of a form."""
    text = "\n".join(path.read_text(encoding="utf-8") for path in WEB.rglob("*.py") if "migrations" not in path.parts)
    fields = re.findall(r"^    (\w+) = (?:forms\.\w+|QuantityField|NumberField|CropField|date_field)\(", text, re.M)
    listed = re.findall(r"\"([a-z_]+)\"", " ".join(re.findall(r"fields = \[(.*?)\]", text, re.S)))
    return sorted({*READ.findall(text), *fields, *listed, "next", "page", "lines-TOTAL_FORMS", "lines-INITIAL_FORMS", "leaves", "plot"})


NAMES = _names()
ADDRESSES = sorted({*OWNED, *SHARED, *PLAIN} - LEFT_OUT)


def broken(client: Client, objects: dict, told: dict[str, str]) -> list[str]:
    """The addresses that answer 500 to what is told them, by GET or by POST; what a form may have done is undone before the next."""
    assert sum(len(name) + len(value) + 120 for name, value in told.items()) < settings.DATA_UPLOAD_MAX_MEMORY_SIZE
    client.raise_request_exception = False
    failed = []
    for name in ADDRESSES:
        for send in (client.get, client.post):
            try:
                with transaction.atomic():
                    status = send(address(name, objects), told).status_code
                    raise _Undo
            except _Undo:
                pass
            if status >= 500:
                failed.append(f"{send.__name__} {name}")
    return failed


@pytest.mark.parametrize("value", MANGLED, ids=range(len(MANGLED)))
def test_no_address_answers_500_whatever_is_sent(grower, objects, value):
    assert broken(grower, objects, dict.fromkeys(NAMES, value)) == []


def test_who_is_on_no_holding_is_told_so_or_led_on_by_every_address(grower, objects):
    theirs = Client()
    theirs.force_login(User.objects.create_user("nobody@farm.example", PASSWORD))
    sound = {"units": "us", "name": "sheet", "scope": "read", "school": "sufficiency", "key": "epsom_ber"}
    assert broken(theirs, objects, dict.fromkeys(NAMES, "1") | sound) == []
    assert "begin one" in text_of(theirs.post(reverse("people:units"), {"units": "us"}))


class _Undo(Exception):
    """Rolls back what one request did."""
