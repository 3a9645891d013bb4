"""Leaf colour cards of one's own: described, shared as a file, taken out."""

import re

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST
from pydantic import ValidationError

from agronomy.base.errors import RuleError
from agronomy.instruments.leaf_card import Card, card, card_from_document
from agronomy.tables.rooms.documents import LeafCard
from web.changes.undo import undoable_deletion
from web.core import error_text, tables
from web.readings.models import OWN_ORIGIN, OwnLeafCard
from web.readings.shared_files import SharedFileForm, as_file, keep_own


def cards_of(holding) -> list[Card]:
    """The cards that ship, and the holding's own by "own:<key>"."""
    own = [_card(f"own:{item.key}", item.document) for item in OwnLeafCard.objects.filter(holding=holding)]
    return [card(key, tables()) for key in tables().leaf_cards] + own


def _card(key: str, document: dict) -> Card:
    """A card from its document; raises RuleError where it is none."""
    try:
        return card_from_document(key, LeafCard.model_validate(document | OWN_ORIGIN))
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise RuleError(
            place or "card", str(first.get("input"))[:40], first["msg"].lower(), "see the cards that ship for examples"
        ) from None


class OwnCardForm(forms.Form):
    """A card that the user has, in plain lines."""

    name = forms.CharField(label="Name of the card", max_length=80)
    position = forms.CharField(label="Which leaf is held to it", max_length=160, initial="youngest fully open leaf, middle of the blade")
    threshold = forms.FloatField(label="Panel below which it needs nitrogen", min_value=0, max_value=20)
    share_below = forms.FloatField(
        label="When so many of ten leaves are paler", min_value=1, max_value=10, initial=6, help_text="Six of ten on most cards."
    )
    panels = forms.CharField(
        label="Panels from pale to dark, one a line",
        widget=forms.Textarea(attrs={"rows": 6}),
        help_text="Number, colour as six digits, words: 3 #9dba4d rather pale",
    )

    def clean(self) -> dict:
        data = super().clean()
        if self.errors:
            return data
        key = re.sub(r"[^a-z0-9]+", "_", data["name"].lower()).strip("_")[:40]
        self.key = key if key[:1].isalpha() else f"card_{key}"[:40]
        try:
            self.document = {
                "name": data["name"],
                "crops": [],
                "position": data["position"],
                "threshold": data["threshold"],
                "share_below": data["share_below"] / 10,
                "level": [_panel(line, place) for place, line in enumerate(data["panels"].splitlines(), 1) if line.strip()],
            }
            _card(self.key, self.document)
        except RuleError as error:
            self.add_error("panels", error_text(error))
        return data


def _panel(line: str, place: int) -> dict:
    parts = line.split(None, 2)
    try:
        return {"level": float(parts[0].replace(",", ".")), "fill": parts[1].lower(), "says": parts[2] if len(parts) > 2 else parts[0]}
    except (IndexError, ValueError):
        mend = "write number, colour and words, such as 3 #9dba4d rather pale"
        raise RuleError("panels", line[:40], f"line {place} is no panel", mend) from None


def own_card(request):
    """Describes a card, or takes in one that somebody shared."""
    is_file = request.method == "POST" and "share" in request.POST
    form = OwnCardForm(None if is_file else request.POST or None)
    shared = SharedFileForm(request.POST if is_file else None, request.FILES if is_file else None)
    if is_file and shared.is_valid():
        document = {key: value for key, value in shared.cleaned_data["file"].items() if key not in OWN_ORIGIN}
        try:
            key = str(document.pop("key", "") or "shared_card")[:40]
            made = _card(key, document)
        except RuleError as error:
            shared.add_error("file", error_text(error))
        else:
            return _keep(request, re.sub(r"[^a-z0-9_]+", "_", key.lower()), document, made.name)
    if request.method == "POST" and not is_file and form.is_valid():
        return _keep(request, form.key, form.document, form.cleaned_data["name"])
    wrong = form.errors or shared.errors
    return render(request, "readings/own_card.html", {"form": form, "shared": shared}, status=422 if wrong else 200)


def _keep(request, key: str, document: dict, name: str):
    keep_own(request, OwnLeafCard, key, document, name)
    return redirect("readings:leaf_card")


def card_file(request, key: str):
    made = get_object_or_404(OwnLeafCard, holding=request.place.holding, key=key)
    return as_file({"key": made.key} | made.document, made.key)


@require_POST
def delete_card(request, key: str):
    made = get_object_or_404(OwnLeafCard, holding=request.place.holding, key=key)
    with undoable_deletion(request, f"{made} was deleted; its readings stay", made):
        made.delete()
    return redirect("readings:leaf_card")
