"""Plans that an adviser proposes: made whole, kept, and adopted or declined by an owner."""

from django import forms
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from agronomy.base.errors import RequestError
from agronomy.intake.answering import plan_document
from agronomy.recommend.schools.registry import NAMES
from agronomy.whatif.aims import ALL_AIMS
from web.changes.undo import undoable
from web.core import error_text, tables
from web.ground.selectors import plot_or_404
from web.jobs.intent import too_much_with
from web.planning.models import PlanProposal
from web.planning.overlap import ask, choice_of
from web.planning.requests import request_document
from web.planning.service import crop_of, lines_by_plot, need_a_crop, plan_of
from web.plans.adopting import adopting, proposed
from web.plans.not_ready import ask_knowing, is_to_be_asked
from web.plans.views import _working, kept


class ProposalForm(forms.Form):
    """What is other than on the bench, and why."""

    school = forms.ChoiceField(label="By the approach of", choices=list(NAMES.items()))
    aim = forms.ChoiceField(label="Bags", choices=[(key, text) for key, text in ALL_AIMS.items()])
    note = forms.CharField(
        label="What you would say to the owner", max_length=400, required=False, widget=forms.Textarea(attrs={"rows": 3})
    )


def _of(request, pk: int) -> PlanProposal:
    return get_object_or_404(PlanProposal.objects.select_related("plot", "by"), pk=pk, plot__holding=request.place.holding)


def propose(request, pk: int):
    """The form, and on sending a plan made with its choices and kept whole."""
    plot = plot_or_404(request, pk)
    lines = lines_by_plot([plot])[pk]
    need_a_crop(plot)
    form = ProposalForm(request.POST or None, initial={"school": plot.school or plot.holding.school, "aim": plot.aim or "rule"})
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        document = request_document(plot, plot.planting, lines, today=timezone.localdate(), units=request.place.units) | {
            "school": data["school"],
            "aim": data["aim"],
        }
        try:
            result = plan_document(document, tables())
        except RequestError as error:
            form.add_error(None, " ".join(error_text(item) for item in error.errors))
        else:
            with undoable(request, f"A plan for {plot.name} was proposed") as touched:
                made = PlanProposal.objects.create(
                    plot=plot, by=request.user, note=data["note"], rules_version=result["rules_version"], request=document, result=result
                )
                touched.append(made)
            return redirect("planning:proposal", made.pk)
    return render(request, "planning/propose.html", {"plot": plot, "crop": crop_of(plot), "form": form}, status=422 if form.errors else 200)


def proposal(request, pk: int):
    found = _of(request, pk)
    return render(request, "planning/proposal.html", kept(request, found) | {"proposal": found})


def proposal_working(request, pk: int, key: str):
    found = _of(request, pk)
    return _working(request, plan_of(found), key, found.plot.name, back="../../")


@require_POST
def adopt_proposal(request, pk: int):
    """Adopts the plan exactly as it was proposed."""
    found = _of(request, pk)
    if found.state != PlanProposal.State.OPEN:
        return redirect("planning:proposal", pk)

    made = proposed(found)
    if is_to_be_asked(request, made.plan):
        return ask_knowing(request, found.plot, made.plan)
    overlaps = too_much_with(found.plot, made.plan)
    if overlaps and not choice_of(request):
        return ask(request, found.plot, overlaps, about="the proposed plan")
    found.state = PlanProposal.State.ADOPTED
    label = f"The plan for {found.plot.name} that {found.by or 'somebody'} proposed was adopted"
    adopted = adopting(request, found.plot, label, made, found)
    return redirect("planning:adopted", adopted.pk)


@require_POST
def decline_proposal(request, pk: int):
    found = _of(request, pk)
    with undoable(request, f"The plan proposed for {found.plot.name} was declined", found):
        found.state = PlanProposal.State.DECLINED
        found.save()
    return redirect("planning:plans")
