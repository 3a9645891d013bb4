"""Dated work: everything that is meant to be put on a plot, whatever it came from."""

import uuid

from django.conf import settings
from django.db import models

from agronomy.base.said import Said, read, written
from agronomy.schedule.programme import WAYS, Programme, programme_of
from web.core import tables
from web.sentences import tell
from web.shaped import ShapedField


def _sentences(kept: dict) -> dict:
    """Sentences as `written` keeps them, by their text. Raises ValueError, KeyError, TypeError or AttributeError for another shape."""
    return {text: read(document) for text, document in kept.items()}


class Job(models.Model):
    """One dressing as work to do. `uid` stays when its days move, so that calendars move it too."""

    class State(models.TextChoices):
        OPEN = "open", "open"
        DONE = "done", "done"
        DROPPED = "dropped", "dropped"

    class Origin(models.TextChoices):
        PLAN = "plan", "a plan"
        PROGRAMME = "programme", "a programme"
        DESK = "desk", "a desk"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="jobs")
    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="jobs")
    plan = models.ForeignKey("planning.AdoptedPlan", on_delete=models.SET_NULL, null=True, blank=True, related_name="jobs")
    origin = models.CharField(max_length=10, choices=Origin, default=Origin.PLAN)
    origin_name = models.CharField(max_length=80, blank=True)  # of the programme or desk
    reason = models.CharField(max_length=200, blank=True)  # why it is on the list although it comes to more than is needed
    uid = models.UUIDField(default=uuid.uuid4, unique=True, editable=False)
    material = models.CharField(max_length=60)
    name = models.CharField(max_length=120)
    what = models.CharField(max_length=10)
    dressing = models.PositiveSmallIntegerField(default=1)
    kg = models.FloatField()
    placement = models.CharField(max_length=200, blank=True)
    way = models.CharField(max_length=8, blank=True, choices=tuple(WAYS.items()))
    worked_in_cm = models.FloatField(null=True, blank=True)
    why = models.CharField(max_length=400, blank=True)
    said = ShapedField(of=_sentences, default=dict, blank=True)  # placement and why with their values, by their text
    from_day = models.DateField()
    to_day = models.DateField()
    state = models.CharField(max_length=8, choices=State, default=State.OPEN)
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="jobs")
    changed_at = models.DateTimeField(auto_now=True)
    revision = models.PositiveIntegerField(default=0)  # grows with every change, as calendars want it

    class Meta:
        ordering = ["from_day", "plot__name", "pk"]
        indexes = [models.Index(fields=["holding", "state", "to_day"], name="open_jobs_by_day")]
        constraints = [
            models.CheckConstraint(condition=models.Q(kg__gte=0, kg__lte=1e8, to_day__gte=models.F("from_day")), name="job_can_be")
        ]

    def __str__(self) -> str:
        return f"{self.name} on {self.plot}"

    def save(self, *args, **kwargs):
        if self.pk:
            self.revision += 1
        super().save(*args, **kwargs)

    def keep_sentences(self, *, placement: str, why: str) -> None:
        """Where it goes and why, as texts and with the values in them, where the columns hold them whole."""
        self.placement, self.why = placement[:200], why[:400]
        told = {self.placement: placement, self.why: why}
        self.said = {text: written(said) for text, said in told.items() if isinstance(said, Said) and said.carries and text == said}

    def sentence(self, name: str, units: str) -> str:
        """Its `placement` or `why` for who reads now."""
        text = getattr(self, name)
        return tell(read(self.said[text]), units) if text in self.said else text

    @property
    def comes_from(self) -> str:
        """Where it comes from, in words."""
        return self.origin_name or f"the {self.origin}"


class CalendarFeed(models.Model):
    """A person's private calendar address on a holding; only the hash of its token is kept."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="feeds")
    person = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="feeds")
    token_sha256 = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    read_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["holding", "person"], name="one_feed_each")]

    def __str__(self) -> str:
        return f"feed of {self.person}"


def _programme(document: dict) -> Programme:
    return programme_of(document, tables())


class OwnProgramme(models.Model):
    """A holding's own sequence, copied from a ready one or begun anew; `document` has the shape of the core's."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="programmes")
    name = models.CharField(max_length=80)
    document = ShapedField(of=_programme)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["holding", "name"], name="one_programme_of_a_name")]

    def __str__(self) -> str:
        return self.name
