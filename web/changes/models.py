"""What was changed, kept so that it can be undone."""

from django.conf import settings
from django.db import models


class Change(models.Model):
    """One act of a user: the rows it touched as they were before and after."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="changes")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)
    label = models.CharField(max_length=200)
    before = models.JSONField(default=list)
    after = models.JSONField(default=list)
    schema = models.CharField(max_length=16, blank=True)  # what the models of these rows looked like
    undo_address = models.CharField(max_length=200, blank=True)  # where to post to undo it, for acts too large to keep row by row
    page = models.CharField(max_length=80, blank=True)  # the address whose right the act took; undoing it takes the same
    undone_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.label


class SentForm(models.Model):
    """A form that was sent, by the digest of its key and content, and the page that it led to; empty while it is under way."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    digest = models.CharField(max_length=64, unique=True)
    led_to = models.TextField(blank=True)
    at = models.DateTimeField(auto_now_add=True, db_index=True)

    def __str__(self) -> str:
        return f"form {self.digest[:8]}"
