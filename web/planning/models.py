"""Plans that were adopted, kept whole."""

from django.conf import settings
from django.db import models


class AdoptedPlan(models.Model):
    """A plan as it was when it was adopted: request, result and rules, so that it can be shown again exactly."""

    plot = models.ForeignKey("ground.Plot", on_delete=models.CASCADE, related_name="adopted_plans")
    adopted_at = models.DateTimeField(auto_now_add=True)
    adopted_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    rules_version = models.CharField(max_length=60)
    request = models.JSONField()
    result = models.JSONField()

    class Meta:
        ordering = ["-adopted_at", "-pk"]

    def __str__(self) -> str:
        return f"Plan for {self.plot}, {self.adopted_at:%Y-%m-%d}"
