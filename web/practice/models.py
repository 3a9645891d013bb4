"""How far a learner is, which is nobody's business but theirs; and sets that a teacher gives by a code."""

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


class PracticeSet(models.Model):
    """A set of exercises that a teacher gives: whoever has its code meets the same ones."""

    code = models.CharField(max_length=12, unique=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practice_sets")
    name = models.CharField(max_length=80)
    kinds = models.JSONField(default=list)
    level = models.PositiveSmallIntegerField(default=1)
    count = models.PositiveSmallIntegerField(default=10)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"{self.name} ({self.code})"


class SetProgress(models.Model):
    """Which exercises of a set a learner has answered; how well stays with the learner."""

    of = models.ForeignKey(PracticeSet, on_delete=models.CASCADE, related_name="progress")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="set_progress")
    done = models.JSONField(default=list)
    last_on = models.DateField(auto_now=True)

    class Meta:
        ordering = ["user__name", "pk"]
        constraints = [models.UniqueConstraint(fields=["of", "user"], name="one_progress_each")]

    def __str__(self) -> str:
        return f"{self.user} in {self.of}"
