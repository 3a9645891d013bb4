"""Plans that were adopted, kept whole; plans that wait for a yes; and what each plot asks for, kept ready for lists and the map."""

from django.conf import settings
from django.db import models

from agronomy.intake.documents import plan_from_document
from agronomy.intake.request_doc import RequestDoc
from web.shaped import ShapedField


class AdoptedPlan(models.Model):
    """A plan as it was when it was adopted: request, result and rules, so that it can be shown again exactly."""

    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="adopted_plans")
    adopted_at = models.DateTimeField(auto_now_add=True)
    adopted_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    rules_version = models.CharField(max_length=60)
    request = ShapedField(of=RequestDoc)
    result = ShapedField(of=plan_from_document)

    class Meta:
        ordering = ["-adopted_at", "-pk"]

    def __str__(self) -> str:
        return f"Plan for {self.plot}, {self.adopted_at:%Y-%m-%d}"


class PlanProposal(models.Model):
    """A plan that an adviser proposes, whole: the owner adopts it as it stands, or declines."""

    class State(models.TextChoices):
        OPEN = "open", "waiting"
        ADOPTED = "adopted", "adopted"
        DECLINED = "declined", "declined"

    plot = models.ForeignKey("ground.Plot", on_delete=models.CASCADE, related_name="proposals")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    made_at = models.DateTimeField(auto_now_add=True)
    note = models.CharField(max_length=400, blank=True)
    state = models.CharField(max_length=8, choices=State, default=State.OPEN)
    rules_version = models.CharField(max_length=60)
    request = ShapedField(of=RequestDoc)
    result = ShapedField(of=plan_from_document)

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"Proposal for {self.plot}"


class PlotSummary(models.Model):
    """What a plot asks for, as its last plan said; `teeth` are those of the small rake. It holds while its `key` is that of its request."""

    ASKS, OLD, UNTESTED, RESTS = "asks", "old", "untested", "rests"
    RANKS = {ASKS: 0, OLD: 1, UNTESTED: 2, RESTS: 3}

    plot = models.OneToOneField("ground.Plot", on_delete=models.CASCADE, related_name="summary")
    key = models.CharField(max_length=64, blank=True)
    rank = models.PositiveSmallIntegerField(default=2)
    state = models.CharField(max_length=10, default=UNTESTED)
    asks = models.CharField(max_length=300, blank=True)
    teeth = models.JSONField(default=list, blank=True)
    last_taken = models.DateField(null=True, blank=True)
    salt = models.CharField(max_length=10, blank=True)  # as the core says it: high, building, or nothing of it

    def __str__(self) -> str:
        return f"{self.plot_id}: {self.state}"
