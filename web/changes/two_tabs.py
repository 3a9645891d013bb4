"""A form that notices when what it changes was changed by somebody else since it was opened, and shows both before anything is lost."""

import hashlib
from typing import Any

from django import forms
from django.db import models

SEEN = "seen"


def mark_of(row: models.Model, left_out: tuple[str, ...] = (), *more: object) -> str:
    """A short mark of a row as it is stored; it changes with any of its columns."""
    fields = [field for field in row._meta.concrete_fields if field.name not in left_out]
    told = [str(field.value_to_string(row)) for field in fields] + [repr(item) for item in more]
    return hashlib.sha256("\x00".join(told).encode()).hexdigest()[:20]


class TwoTabsForm(forms.ModelForm):
    """Carries the mark of its row; refuses once where the row is another by now, and says what it says now."""

    left_out: tuple[str, ...] = ()  # columns that change by themselves

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self._stored = mark_of(self.instance, self.left_out, *self.also_seen()) if self.instance.pk else ""
        self._was = {field.name: field.value_from_object(self.instance) for field in self.instance._meta.concrete_fields}
        if self._stored:
            self.fields[SEEN] = forms.CharField(widget=forms.HiddenInput, required=False, initial=self._stored, max_length=40)

    def also_seen(self) -> tuple:
        """What hangs on the row and is changed by the same page."""
        return ()

    data: Any

    def _post_clean(self):
        super()._post_clean()  # from here on the row is as typed, so that it can be laid beside what is stored
        seen = self.cleaned_data.get(SEEN) or ""
        if not self._stored or not seen or seen == self._stored:
            return
        differs = []
        for field in self.instance._meta.concrete_fields:
            stored, typed = self._was[field.name], field.value_from_object(self.instance)
            if field.name not in self.left_out and stored != typed:
                differs.append(f"{str(field.verbose_name).capitalize()}: {_told(stored)} now, {_told(typed)} here.")
        name = self.add_prefix(SEEN)
        self.data = self.data.copy()
        self.data[name] = self._stored
        said = " ".join(differs[:8]) or "It says the same as here by now."
        self.add_error(None, f"Somebody changed this since you opened it. {said} Keep it again to let yours stand, or reload the page.")


def _told(value: object) -> str:
    return "nothing" if value in (None, "", [], {}) else f"“{value}”"[:80]
