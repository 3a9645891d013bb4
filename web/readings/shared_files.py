"""Kits and leaf cards as files: written out for somebody else, and taken in again."""

import json
from typing import Any

from django import forms
from django.http import HttpResponse

from web.changes.undo import undoable
from web.readings.models import OwnKit, OwnLeafCard

MOST_BYTES = 200_000


class SharedFileForm(forms.Form):
    """A file that somebody shared."""

    file = forms.FileField(label="A file that somebody shared", help_text="The .json file that “Share as a file” makes.")

    def clean_file(self) -> dict[str, Any]:
        """The document in it; the core checks what stands there."""
        sent = self.cleaned_data["file"]
        if sent.size > MOST_BYTES:
            raise forms.ValidationError(f"The file is larger than {MOST_BYTES // 1000} kB: it is no kit and no card.")
        try:
            document = json.loads(sent.read().decode("utf-8"))
        except (ValueError, RecursionError):
            raise forms.ValidationError("This is not such a file: choose the .json file that was shared.") from None
        if not isinstance(document, dict):
            raise forms.ValidationError("This is not such a file: choose the .json file that was shared.")
        return document


def keep_own(request, model: type[OwnKit | OwnLeafCard], key: str, document: dict[str, Any], name: str) -> None:
    """Keeps a kit or card of the holding's own under its key, as one act that can be undone; an earlier one of that key gives way."""
    earlier = model.objects.filter(holding=request.place.holding, key=key).first()
    with undoable(request, f"{name} was kept", *([earlier] if earlier else [])) as touched:
        kept = earlier or model(holding=request.place.holding, key=key)
        kept.document = document
        kept.save()
        touched.append(kept)


def as_file(document: dict[str, Any], name: str) -> HttpResponse:
    """A document to keep on one's own machine."""
    text = json.dumps(document, ensure_ascii=False, indent=2) + "\n"
    return HttpResponse(
        text, content_type="application/json; charset=utf-8", headers={"Content-Disposition": f'attachment; filename="{name}.json"'}
    )
