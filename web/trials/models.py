"""A trial on one plot: its question, treatments, drawn lot and what was weighed."""

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from agronomy.trial.design import MOST_BLOCKS
from web.ground.models import DAYS_THAT_CAN_BE
from web.shaped import Scalar, ShapedField

METRES = [MinValueValidator(0.05), MaxValueValidator(2000.0)]


class Trial(models.Model):
    """Treatments in randomised blocks; the seed draws the same lot again. `values` and `before` are texts by unit number, as typed.

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
    treatments = ShapedField(of=list[str], default=list)
    blocks = models.PositiveSmallIntegerField(default=4, validators=[MinValueValidator(2), MaxValueValidator(MOST_BLOCKS)])
    seed = models.PositiveIntegerField()
    measured = models.CharField(max_length=80)
    unit = models.CharField(max_length=20, blank=True)
    worth = models.FloatField(validators=[MinValueValidator(0.0)])
    begun_on = models.DateField()
    price = models.FloatField(null=True, blank=True)
    costs = ShapedField(of=dict[str, float], default=dict, blank=True)
    values = ShapedField(of=dict[str, str], default=dict, blank=True)
    length_m = models.FloatField(null=True, blank=True, validators=METRES)  # of one unit, down the slope
    width_m = models.FloatField(null=True, blank=True, validators=METRES)
    guard_m = models.FloatField(default=0.0, validators=[MinValueValidator(0.0), MaxValueValidator(100.0)])
    doses = ShapedField(of=dict[str, dict[str, Scalar]], default=dict, blank=True)  # by treatment: the material's key and its rate [kg/ha]
    before_what = models.CharField(max_length=80, blank=True)
    before = ShapedField(of=dict[str, str], default=dict, blank=True)  # what was read of each unit beforehand, as typed

    class Meta:
        ordering = ["-begun_on", "-pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def is_begun(self) -> bool:
        """Whether something hangs on the lot as it was drawn: it is then never drawn anew."""
        return bool(self.values or self.before) or self.photos.exists()

    @property
    def unit_m2(self) -> float | None:
        """The ground of one unit; None as long as nobody has said its size."""
        return self.length_m * self.width_m if self.length_m and self.width_m else None

    @property
    def letters(self) -> list[str]:
        return [chr(65 + place) for place in range(len(self.treatments))]


class TrialPhoto(models.Model):
    """One unit of a trial on one day; pictures of a day are laid side by side."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="photos")
    unit = models.PositiveSmallIntegerField()
    taken_on = models.DateField(validators=DAYS_THAT_CAN_BE)
    photo = models.ForeignKey("records.LogPhoto", on_delete=models.CASCADE, related_name="trial_photos")

    class Meta:
        ordering = ["-taken_on", "unit", "pk"]

    def __str__(self) -> str:
        return f"{self.trial}, {self.unit}"
