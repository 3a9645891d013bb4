"""A plan that comes as a file: its request is planned for again by the rules here, and waits as a proposal for an owner's yes."""

import json

from django import forms
from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError
from agronomy.intake.answering import plan_document
from agronomy.intake.documents import dressings_in, told_apart
from agronomy.intake.request import read_request
from agronomy.ledger.totals import beside_plan
from web.changes.undo import undoable
from web.core import error_text, tables
from web.ground.selectors import plot_or_404
from web.planning.models import PlanProposal
from web.planning.service import crop_of

MOST_BYTES = 2_000_000


class PlanFileForm(forms.Form):
    """A file as `plan.json` is taken out: the request with its plan, or a request alone."""

    file = forms.FileField(label="The plan’s file", widget=forms.ClearableFileInput(attrs={"accept": ".json,application/json"}))

    def clean_file(self) -> dict:
        """The file's request and plan, as far as it has them."""
        if self.cleaned_data["file"].size > MOST_BYTES:
            raise forms.ValidationError("The file is larger than a plan can be. Remove the plan’s own file.")
        try:
            told = json.loads(self.cleaned_data["file"].read())
        except (ValueError, RecursionError):
            raise forms.ValidationError("This is not JSON. Export the plan as JSON from its page, or with the command line.") from None
        if not isinstance(told, dict):
            raise forms.ValidationError("This is not a plan: it begins with a list. Export the plan as JSON from its page.")
        found = told if "request" in told else {"request": told}
        if not isinstance(found["request"], dict) or "plot" not in found["request"]:
            raise forms.ValidationError("There is no request in it, only an answer. A plan is made again from its request: send both.")
        return found


def read_plan(request, pk: int):
    """The form, and on sending a proposal made of the file."""
    plot = plot_or_404(request, pk)
    form = PlanFileForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        made = _made(form, plot)
        if made is not None:
            document, result, note = made
            with undoable(request, f"A plan for {plot.name} was imported") as touched:
                kept = PlanProposal.objects.create(
                    plot=plot, by=request.user, note=note, rules_version=result["rules_version"], request=document, result=result
                )
                touched.append(kept)
            return redirect("planning:proposal", kept.pk)
    context = {"plot": plot, "crop": crop_of(plot), "form": form}
    return render(request, "planning/read_plan.html", context, status=422 if form.errors else 200)


def _made(form: PlanFileForm, plot) -> tuple[dict, dict, str] | None:
    """The request of today, its plan by the rules here, and where the file's own plan says otherwise; None with an error on the form."""
    told = form.cleaned_data["file"]
    document = told["request"] | {"today": timezone.localdate().isoformat()}
    try:
        area = read_request(document, tables()).plot.area_m2
        result = plan_document(document, tables())
    except RequestError as error:
        form.add_error("file", " ".join(error_text(item) for item in error.errors))
        return None
    if beside_plan(area, plot.area_m2, tables()):
        theirs, ours = (showing.area(m2, "metric") for m2 in (area, plot.area_m2))
        form.add_error("file", f"The plan is for {theirs}, and this plot has {ours}. Choose its plot, or correct one of the sizes.")
        return None
    try:
        theirs_says = dressings_in(told["plan"]) if isinstance(told.get("plan"), dict) else None
    except (KeyError, TypeError, ValueError, AttributeError):
        form.add_error("file", "The plan in it can’t be read. Send the request alone.")
        return None
    apart = [] if theirs_says is None else told_apart(theirs_says, dressings_in(result), tables())
    same = "Made again here, it is the same as the file’s." if theirs_says is not None and not apart else ""
    note = " ".join(filter(None, ("Imported from a file.", same, *apart)))
    return document, result, note[:400]
