"""A trial on one plot: its question, treatments, drawn lot and what was weighed."""

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from agronomy.trial.design import MOST_BLOCKS


class Trial(models.Model):
    """Treatments in randomised blocks; the seed draws the same lot again. `values` are texts by unit number, as typed.

    `treatments` name what each does, the untreated control first; letters stand for them in their order.
    """

    class Kind(models.TextChoices):
        BEDS = "beds", "small plots or beds"
        STRIPS = "strips", "strips of a field, side by side"
        POTS = "pots", "pots on a bench"
        TREES = "trees", "single trees"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="trials")
    plot = models.ForeignKey("ground.Plot", on_delete=models.CASCADE, related_name="trials")
    name = models.CharField(max_length=120)
    question = models.CharField(max_length=200)
    kind = models.CharField(max_length=8, choices=Kind, default=Kind.BEDS)
    treatments = models.JSONField(default=list)
    blocks = models.PositiveSmallIntegerField(default=4, validators=[MinValueValidator(2), MaxValueValidator(MOST_BLOCKS)])
    seed = models.PositiveIntegerField()
    measured = models.CharField(max_length=80)
    unit = models.CharField(max_length=20, blank=True)
    worth = models.FloatField(validators=[MinValueValidator(0.0)])
    begun_on = models.DateField()
    price = models.FloatField(null=True, blank=True)
    costs = models.JSONField(default=dict, blank=True)
    values = models.JSONField(default=dict, blank=True)

    class Meta:
        ordering = ["-begun_on", "-pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def letters(self) -> list[str]:
        return [chr(65 + place) for place in range(len(self.treatments))]
