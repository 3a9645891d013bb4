"""What the desks keep: own blends, and what a spreader did at a setting."""

from django.db import models

from web.shaped import ShapedField


class OwnBlend(models.Model):
    """A blend: its parts as [material, parts] by scoop or by weight."""

    class By(models.TextChoices):
        SCOOP = "scoop", "by scoops"
        WEIGHT = "weight", "by weight"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="own_blends")
    name = models.CharField(max_length=80)
    by = models.CharField(max_length=6, choices=By, default=By.SCOOP)
    parts = ShapedField(of=list[tuple[str, float]], default=list)
    mixed_on = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["holding", "name"], name="one_blend_of_a_name")]

    def __str__(self) -> str:
        return self.name


class SpreaderRun(models.Model):
    """What a spreader gave at a setting: measured rate [kg/ha], bout width [m], evenness [%], and how it was measured."""

    class How(models.TextChoices):
        WALK = "walk", "a walk"
        BUCKET = "bucket", "a bucket"
        TRAYS = "trays", "trays"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="spreader_runs")
    spreader = models.CharField(max_length=60)
    material = models.CharField(max_length=60)
    setting = models.FloatField()
    how = models.CharField(max_length=6, choices=How, default=How.WALK)
    rate_kg_per_ha = models.FloatField(null=True, blank=True)
    bout_m = models.FloatField(null=True, blank=True)
    cv_pct = models.FloatField(null=True, blank=True)
    measured_on = models.DateField()
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["spreader", "material", "setting", "-measured_on", "pk"]

    def __str__(self) -> str:
        return f"{self.spreader} at {self.setting:g}"
