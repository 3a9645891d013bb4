"""Kits and leaf cards as files: written out for somebody else, and taken in again."""

import json
from typing import Any

from django import forms
from django.http import HttpResponse

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
        except (UnicodeDecodeError, ValueError):
            raise forms.ValidationError("This is no such file: choose the .json file that was shared.") from None
        if not isinstance(document, dict):
            raise forms.ValidationError("This is no such file: choose the .json file that was shared.")
        return document


def as_file(document: dict[str, Any], name: str) -> HttpResponse:
    """A document to keep on one's own machine."""
    text = json.dumps(document, ensure_ascii=False, indent=2) + "\n"
    return HttpResponse(
        text, content_type="application/json; charset=utf-8", headers={"Content-Disposition": f'attachment; filename="{name}.json"'}
    )
