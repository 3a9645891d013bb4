"""Keys that let a person's own programs in."""

from django.conf import settings
from django.db import models


class ApiToken(models.Model):
    """A token for one person on one holding; only its hash is kept. It reaches what the person's role reaches, and no more."""

    class Scope(models.TextChoices):
        READ = "read", "read only"
        WRITE = "write", "read, and send readings and what was done"

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="api_tokens")
    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="api_tokens")
    name = models.CharField(max_length=80)
    scope = models.CharField(max_length=5, choices=Scope, default=Scope.READ)
    token_sha256 = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(auto_now_add=True)
    used_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name


class ApiWrite(models.Model):
    """What was sent with a key of its own, and the answer to it: sent again it is answered, not done again."""

    token = models.ForeignKey(ApiToken, on_delete=models.CASCADE, related_name="writes")
    digest = models.CharField(max_length=64)
    at = models.DateTimeField(auto_now_add=True)
    answer = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["token", "digest"], name="one_answer_each")]

    def __str__(self) -> str:
        return self.digest[:12]
