"""The application records: what was really put on, what was seen, and pictures of both."""

from django.conf import settings
from django.db import models
from django.utils import timezone

from web.ground.models import DAYS_THAT_CAN_BE
from web.shaped import ShapedField
from web.storing import StoredBytesField


class LogPhoto(models.Model):
    """A picture of what was done, made small and without what the camera knew of place and person.

    It lies in the database unless the settings name a storage. A photo that no entry points to is what an undo left behind.
    """

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="photos")
    made_at = models.DateTimeField(auto_now_add=True)
    jpeg = StoredBytesField()

    def __str__(self) -> str:
        return f"photo {self.pk}"


class LogEntry(models.Model):
    """What was really put on: how much, from which lot, by whom, when, in what weather.

    A correction points to what it corrects; nothing is erased.
    """

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="log")
    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="log")
    job = models.ForeignKey("jobs.Job", on_delete=models.SET_NULL, null=True, blank=True, related_name="entries")
    # a phone without a net names its entry itself, so that sending twice writes once
    sent_as = models.UUIDField(unique=True, null=True, blank=True)
    material = models.CharField(max_length=60)
    name = models.CharField(max_length=120)
    what = models.CharField(max_length=10, blank=True)
    kg = models.FloatField()
    planned_kg = models.FloatField(null=True, blank=True)
    done_on = models.DateField(default=timezone.localdate)
    lot = models.ForeignKey("supplies.StockLot", on_delete=models.SET_NULL, null=True, blank=True, related_name="uses")
    lot_kg = models.FloatField(default=0)
    price_per_kg = models.FloatField(null=True, blank=True)
    supplies = ShapedField(of=dict[str, float], default=dict, blank=True)  # kg of each nutrient on the plot
    weather = models.CharField(max_length=160, blank=True)
    note = models.CharField(max_length=300, blank=True)
    way = models.CharField(max_length=8, blank=True)  # "leaf" or "water"; on the ground where empty
    photo = models.ForeignKey(LogPhoto, on_delete=models.SET_NULL, null=True, blank=True, related_name="entries")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="log")
    written_at = models.DateTimeField(auto_now_add=True)
    stands = models.BooleanField(default=True)  # not corrected by a later entry
    corrects = models.OneToOneField("self", on_delete=models.PROTECT, null=True, blank=True, related_name="corrected_by")

    class Meta:
        ordering = ["-done_on", "-pk"]
        constraints = [models.CheckConstraint(condition=models.Q(kg__gte=0, kg__lte=1e8, lot_kg__gte=0), name="entry_can_be")]

    def __str__(self) -> str:
        return f"{self.kg:g} kg of {self.name} on {self.plot}"

    @property
    def brings(self) -> set[str]:
        """What it was put on for, and every nutrient in it, by the core's names."""
        return {key for key, kg in self.supplies.items() if kg > 0} | ({self.what} if self.what else set())


class Sighting(models.Model):
    """Something wrong that was seen on a plot, kept under watch: what was answered in the key, when to look again, how it ended."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="sightings")
    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="sightings")
    seen_on = models.DateField(default=timezone.localdate, validators=DAYS_THAT_CAN_BE)
    seen = ShapedField(of=list[str], default=list, blank=True)  # keys of the core's table of features
    not_seen = ShapedField(of=list[str], default=list, blank=True)
    likely = models.CharField(max_length=120, blank=True)  # what it most likely was by the key on that day
    note = models.CharField(max_length=400, blank=True)
    look_on = models.DateField(null=True, blank=True, validators=DAYS_THAT_CAN_BE)
    settled_on = models.DateField(null=True, blank=True, validators=DAYS_THAT_CAN_BE)
    settled_as = models.CharField(max_length=200, blank=True)
    confirmed = models.CharField(max_length=40, blank=True)  # the key's cause that a test or a treated strip has shown
    photo = models.ForeignKey(LogPhoto, on_delete=models.SET_NULL, null=True, blank=True, related_name="sightings")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="sightings")

    class Meta:
        ordering = ["settled_on", "look_on", "-seen_on", "-pk"]

    def __str__(self) -> str:
        return f"{self.likely or 'something wrong'} on {self.plot}"
