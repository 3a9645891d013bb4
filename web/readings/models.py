"""Slips of results, kept as they were typed."""

from django.db import models


class Slip(models.Model):
    """A sheet of results for one plot: who measured, how and when."""

    class How(models.TextChoices):
        LAB = "lab", "a laboratory"
        KIT = "kit", "a colour kit"
        METER = "meter", "a meter, calibrated today"
        PROBE = "probe", "a probe without a battery"
        STRIP = "strip", "a paper strip"

    plot = models.ForeignKey("ground.Plot", on_delete=models.CASCADE, related_name="slips")
    lab = models.CharField(max_length=120, blank=True)
    how = models.CharField(max_length=8, choices=How, default=How.LAB)
    taken_on = models.DateField()
    note = models.TextField(blank=True)
    written_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-taken_on", "-pk"]

    def __str__(self) -> str:
        return f"{self.lab or self.get_how_display()}, {self.taken_on}"


class SlipLine(models.Model):
    """One line of a slip: the value exactly as typed, its unit and method. `settled`: the user says a doubt is unfounded."""

    slip = models.ForeignKey(Slip, on_delete=models.CASCADE, related_name="lines")
    place = models.PositiveSmallIntegerField()
    analyte = models.CharField(max_length=24)
    typed = models.CharField(max_length=40)
    unit = models.CharField(max_length=24, blank=True)
    method = models.CharField(max_length=40, blank=True)
    settled = models.BooleanField(default=False)

    class Meta:
        ordering = ["place", "pk"]

    def __str__(self) -> str:
        return f"{self.analyte} {self.typed} {self.unit}"
