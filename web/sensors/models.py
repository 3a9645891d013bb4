"""Gateways that post what their probes measure, the probes, and the latest readings."""

from django.db import models


class Gateway(models.Model):
    """A box that posts readings with a token. Only a digest of the token is kept."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="gateways")
    name = models.CharField(max_length=80)
    token_sha256 = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(auto_now_add=True)
    revoked_at = models.DateTimeField(null=True, blank=True)
    heard_at = models.DateTimeField(null=True, blank=True)
    window_began_at = models.DateTimeField(null=True, blank=True)
    posts_in_window = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name


class Probe(models.Model):
    """A probe left in place: what it measures, where, how deep, and how often it should speak."""

    gateway = models.ForeignKey(Gateway, on_delete=models.CASCADE, related_name="probes")
    key = models.CharField(max_length=40)
    name = models.CharField(max_length=80)
    quantity = models.CharField(max_length=20)
    plot = models.ForeignKey("ground.Plot", on_delete=models.SET_NULL, null=True, blank=True, related_name="probes")
    x = models.FloatField(null=True, blank=True)
    y = models.FloatField(null=True, blank=True)
    depth_cm = models.FloatField(null=True, blank=True)
    every_minutes = models.PositiveIntegerField(default=60)
    refused = models.PositiveIntegerField(default=0)
    refused_at = models.DateTimeField(null=True, blank=True)
    # the latest reading, so that the list of probes is one query
    last_at = models.DateTimeField(null=True, blank=True)
    last_value = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["plot__name", "name", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["gateway", "key"], name="one_probe_of_a_key"),
            models.CheckConstraint(
                condition=models.Q(x=None, y=None) | models.Q(x__isnull=False, y__isnull=False), name="probe_has_both_x_and_y"
            ),
        ]

    def __str__(self) -> str:
        return self.name


class ProbeReading(models.Model):
    """One value of a probe. A probe has one value at a moment: posting it again changes nothing."""

    probe = models.ForeignKey(Probe, on_delete=models.CASCADE, related_name="readings")
    at = models.DateTimeField()
    value = models.FloatField()

    class Meta:
        ordering = ["at"]
        constraints = [models.UniqueConstraint(fields=["probe", "at"], name="one_value_at_a_moment")]

    def __str__(self) -> str:
        return f"{self.probe} {self.value} at {self.at}"
