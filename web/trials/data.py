"""The values of a trial as a sheet: out for a program of one's own, and in from one."""

import csv
import io

from django import forms
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from web.changes.undo import undoable
from web.core import error_text
from web.trials.finding import trial_or_404, units_of
from web.trials.result import analysis_of
from web.words import plain_cell

COLUMNS = ("unit", "block", "place", "treatment", "before", "value")
MOST = 200_000  # characters of a pasted sheet


class DataForm(forms.Form):
    """A sheet with a unit and a value in each row, from a file or pasted."""

    sheet = forms.FileField(label="A CSV file", required=False)
    pasted = forms.CharField(
        label="Or pasted rows", required=False, max_length=MOST, widget=forms.Textarea(attrs={"rows": 4}), help_text="Such as 101;6.1"
    )

    def __init__(self, *args, known: set[str], **kwargs):
        super().__init__(*args, **kwargs)
        self.known = known

    def clean(self) -> dict:
        data = super().clean()
        text = data.get("pasted") or ""
        if data.get("sheet"):
            if data["sheet"].size > MOST:
                raise forms.ValidationError("The file is too large for a trial. Leave only its own rows in.")
            text = data["sheet"].read().decode("utf-8-sig", errors="replace")
        if not text.strip():
            raise forms.ValidationError("Choose a file, or paste rows with a unit and a value.")
        data["values"], data["before"] = self._rows(text)
        return data

    def _rows(self, text: str) -> tuple[dict[str, str], dict[str, str]]:
        """Values and what was read before, by unit number; a row that can't be read is told with its number."""
        try:
            rows = [row for row in csv.reader(io.StringIO(text), delimiter=_between_columns(text)) if any(cell.strip() for cell in row)]
        except csv.Error as error:
            raise forms.ValidationError(f"The rows can’t be read ({error}). Paste them as plain text.") from None
        if not rows:
            raise forms.ValidationError("There is nothing in these rows. Paste rows with a unit and a value.")
        names = [cell.strip().lower() for cell in rows[0]]
        has_names = "unit" in names
        unit, value = (names.index("unit"), names.index("value") if "value" in names else len(names) - 1) if has_names else (0, 1)
        first = names.index("before") if has_names and "before" in names else None
        values: dict[str, str] = {}
        before: dict[str, str] = {}
        for place, row in enumerate(rows[1 if has_names else 0 :], 2 if has_names else 1):
            number = row[unit].strip() if unit < len(row) else ""
            if number not in self.known:
                raise forms.ValidationError(f"Row {place}: “{number[:20]}” is no unit of this trial. Use the numbers of the drawing.")
            for at, into in ((value, values), (first, before)):
                cell = row[at].strip()[:20] if at is not None and at < len(row) else ""
                if cell:
                    into[number] = _checked(cell, place)
        return values, before


def _checked(cell: str, place: int) -> str:
    try:
        parse_number(cell, "value")
    except RuleError as error:
        raise forms.ValidationError(f"Row {place}: {error_text(error)}") from None
    return cell


def _between_columns(text: str) -> str:
    first = text.lstrip().splitlines()[0]
    return max((";", "\t", ","), key=first.count)


def data_csv(request, pk: int):
    """Every unit with its treatment and value; below it what was found."""
    trial = trial_or_404(request, pk)
    response = HttpResponse(
        content_type="text/csv; charset=utf-8", headers={"Content-Disposition": f'attachment; filename="trial-{pk}.csv"'}
    )
    writer = csv.writer(response)
    writer.writerow(COLUMNS)
    for unit in units_of(trial):
        key = str(unit.number)
        told = (unit.number, unit.block, unit.place, unit.treatment, trial.before.get(key, ""), trial.values.get(key, ""))
        writer.writerow([plain_cell(cell) for cell in told])
    found = analysis_of(trial)
    if found is not None:
        writer.writerow([])
        writer.writerow(["treatment", "mean", "difference", "low_95", "high_95", "p_together", "p_alone"])
        writer.writerow([plain_cell(found.control), f"{found.control_mean:.6g}"])
        for item in found.differences:
            figures = (item.mean, item.difference, item.low, item.high, item.p_together, item.p_alone)
            writer.writerow([plain_cell(item.treatment), *[f"{figure:.6g}" for figure in figures]])
    return response


@require_POST
def data_in(request, pk: int):
    """Values from a sheet take the place of those of the same units; one undo."""
    trial = trial_or_404(request, pk)
    form = DataForm(request.POST, request.FILES, known={str(unit.number) for unit in units_of(trial)})
    if not form.is_valid():
        return render(request, "trials/data.html", {"trial": trial, "form": form}, status=422)
    with undoable(request, f"Values of the trial “{trial.name}” were imported", trial):
        trial.values |= form.cleaned_data["values"]
        trial.before |= form.cleaned_data["before"]
        trial.save()
    return redirect("trials:trial", pk)
