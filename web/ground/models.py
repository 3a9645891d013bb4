"""The ground: plots, and what is planted on them."""

from django.db import models


class Plot(models.Model):
    """A bed or a field. Sizes are kept in base units: m² and cm."""

    class Kind(models.TextChoices):
        BED = "bed", "bed"
        FIELD = "field", "field"

    class FreeLime(models.TextChoices):
        UNKNOWN = "", "not tried"
        YES = "yes", "yes, it fizzes"
        NO = "no", "no, it stays quiet"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="plots")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=12, choices=Kind, default=Kind.BED)
    area_m2 = models.FloatField()
    depth_cm = models.FloatField()
    texture = models.CharField(max_length=24, blank=True)
    dug = models.BooleanField(default=True)
    free_lime = models.CharField(max_length=4, choices=FreeLime, blank=True, default=FreeLime.UNKNOWN)
    note = models.TextField(blank=True)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["holding", "name"], name="one_plot_of_a_name")]

    def __str__(self) -> str:
        return self.name

    @property
    def planting(self) -> "Planting | None":
        """The crop to plan for: the last one entered."""
        plantings = list(self.plantings.all())
        return plantings[-1] if plantings else None


class Planting(models.Model):
    """A crop on a plot: when it is planted and what is hoped for."""

    plot = models.ForeignKey(Plot, on_delete=models.CASCADE, related_name="plantings")
    crop = models.CharField(max_length=40)
    planted_on = models.DateField(null=True, blank=True)
    yield_goal_t_per_ha = models.FloatField(null=True, blank=True)
    target_ph = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return f"{self.crop} on {self.plot}"
