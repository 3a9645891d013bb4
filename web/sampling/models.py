"""Sampling rounds and their samples, from plan to result."""

from datetime import date

from django.db import models

from agronomy.sampling.plan import state_of
from web.core import tables
from web.shaped import ShapedField


class SamplingRound(models.Model):
    """One outing with bucket and corer: which laboratory it is for, and what is to be tested."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="sampling_rounds")
    name = models.CharField(max_length=120)
    planned_on = models.DateField()
    lab = models.CharField(max_length=120, blank=True)
    tests = models.CharField(max_length=200, blank=True)
    cost_each = models.DecimalField(max_digits=8, decimal_places=2, null=True, blank=True)
    note = models.TextField(blank=True)

    class Meta:
        ordering = ["-planned_on", "-pk"]

    def __str__(self) -> str:
        return self.name


class Sample(models.Model):
    """One bag: where it comes from, how many cores and how deep, and where it stands.

    `walk` is the path as it was planned, {"line", "cores", "length_m", "edge_m"} in metres on the holding's grid, or None for
    a plot without a shape; `cores_done` are the numbers of the cores in the bucket.
    """

    class Role(models.TextChoices):
        WHOLE = "whole", "the whole plot"
        GOOD = "good", "good place"
        BAD = "bad", "bad place"

    class Variability(models.TextChoices):
        EVEN = "even", "looks alike everywhere"
        ORDINARY = "ordinary", "ordinary"
        PATCHY = "patchy", "patchy"

    round = models.ForeignKey(SamplingRound, on_delete=models.CASCADE, related_name="samples")
    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="samples")
    code = models.CharField(max_length=8, db_index=True)
    role = models.CharField(max_length=6, choices=Role, default=Role.WHOLE)
    variability = models.CharField(max_length=10, choices=Variability, default=Variability.ORDINARY)
    top_cm = models.FloatField(default=0)
    bottom_cm = models.FloatField()
    cores_wanted = models.PositiveSmallIntegerField()
    cores_done = ShapedField(of=list[int], default=list, blank=True)
    walk = ShapedField(of=dict[str, float | list[tuple[float, float]]], null=True, blank=True)
    place = models.CharField(max_length=160, blank=True)
    taken_on = models.DateField(null=True, blank=True)
    sent_on = models.DateField(null=True, blank=True)
    arrived_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["plot__name", "role", "top_cm", "pk"]

    def __str__(self) -> str:
        return f"{self.code}, {self.plot}"

    @property
    def as_target(self) -> str:
        """How a laboratory file's matching names it."""
        return f"sample:{self.pk}"

    def state(self, today: date) -> str:
        """planned, taken, sent, overdue or in."""
        return state_of(taken=self.taken_on, sent=self.sent_on, arrived=self.arrived_on, today=today, tables=tables())
