"""How far a learner is; nobody's business but theirs."""

from django.conf import settings
from django.db import models


class PracticeBox(models.Model):
    """A learner's box for a kind of exercise: when it comes again, at which level, and the last points."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practice_boxes")
    kind = models.CharField(max_length=30)
    box = models.PositiveSmallIntegerField(default=0)
    level = models.PositiveSmallIntegerField(default=1)
    due_on = models.DateField()
    recent = models.JSONField(default=list)
    answered = models.JSONField(default=list)  # seeds that were marked lately: a page sent twice is marked once

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "kind"], name="one_box_each")]

    def __str__(self) -> str:
        return f"{self.kind}, box {self.box}"
