"""Two tabs on one thing: the second does not wipe out what the first did without being told."""

import html
import re

import pytest
from django.urls import reverse

PAGES = {
    "ground:edit_plot": ("border", {"note": "by the first"}),
    "ground:edit_water": ("water", {"name": "The other tap"}),
    "supplies:edit_lot": ("lot", {"note": "by the first"}),
    "readings:edit_slip": ("slip", {"note": "by the first"}),
    "sensors:probe": ("probe", {"name": "The other probe"}),
    "people:holding": (None, {"name": "Thornmere Hill"}),
}


def _form(page: str) -> dict:
    """What a browser would send of the form with the mark, nothing changed."""
    form = next(form for form in re.findall(r"<form.*?</form>", page, re.S) if 'name="seen"' in form)
    told = {}
    for tag in re.findall(r"<input [^>]*>", form):
        named = dict(re.findall(r'(\w[\w-]*)="([^"]*)"', tag))
        if (named.get("type") in ("checkbox", "radio") and " checked" not in tag) or "name" not in named:
            continue
        told[named["name"]] = html.unescape(named.get("value", "on" if named.get("type") == "checkbox" else ""))
    for name, inner in re.findall(r'<select [^>]*name="([^"]+)".*?>(.*?)</select>', form, re.S):
        chosen = re.search(r'<option value="([^"]*)"[^>]*selected', inner) or re.search(r'<option value="([^"]*)"', inner)
        told[name] = html.unescape(chosen[1]) if chosen else ""
    for name, inner in re.findall(r'<textarea [^>]*name="([^"]+)".*?>(.*?)</textarea>', form, re.S):
        told[name] = html.unescape(inner.strip())
    told.pop("once", None)
    return told


@pytest.mark.parametrize("name", PAGES)
def test_the_second_tab_is_told_what_the_first_did(grower, objects, border, name):
    about, change = PAGES[name]
    address = reverse(name, args=[] if about is None else [border.pk if about == "border" else objects[about]])
    first = _form(grower.get(address).content.decode())
    second = dict(first)
    assert grower.post(address, first | change).status_code == 302
    refused = grower.post(address, second)
    page = html.unescape(refused.content.decode())
    assert refused.status_code == 422
    assert "Somebody changed this since you opened it." in page
    assert f"“{next(iter(change.values()))}” now" in page
    assert grower.post(address, _form(refused.content.decode())).status_code == 302  # who presses again has seen both
