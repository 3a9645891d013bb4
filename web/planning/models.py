"""Plans that were adopted, kept whole; the shed and its suppliers; the log of what was really put on; and what each plot asks for, kept
ready for lists and the map.
"""

from django.conf import settings
from django.db import models
from django.utils import timezone


class AdoptedPlan(models.Model):
    """A plan as it was when it was adopted: request, result and rules, so that it can be shown again exactly."""

    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="adopted_plans")
    adopted_at = models.DateTimeField(auto_now_add=True)
    adopted_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    rules_version = models.CharField(max_length=60)
    request = models.JSONField()
    result = models.JSONField()

    class Meta:
        ordering = ["-adopted_at", "-pk"]

    def __str__(self) -> str:
        return f"Plan for {self.plot}, {self.adopted_at:%Y-%m-%d}"


class PlanProposal(models.Model):
    """A plan that an adviser proposes, whole: the owner adopts it as it stands, or declines."""

    class State(models.TextChoices):
        OPEN = "open", "waiting"
        ADOPTED = "adopted", "adopted"
        DECLINED = "declined", "declined"

    plot = models.ForeignKey("ground.Plot", on_delete=models.CASCADE, related_name="proposals")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    made_at = models.DateTimeField(auto_now_add=True)
    note = models.CharField(max_length=400, blank=True)
    state = models.CharField(max_length=8, choices=State, default=State.OPEN)
    rules_version = models.CharField(max_length=60)
    request = models.JSONField()
    result = models.JSONField()

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self) -> str:
        return f"Proposal for {self.plot}"


class StockLot(models.Model):
    """A lot in the shed: how much of a material, what a kilogram cost, how large its bags are. Amounts in kg."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="stock_lots")
    material = models.CharField(max_length=60)
    kg = models.FloatField()
    price_per_kg = models.FloatField(null=True, blank=True)
    bag_kg = models.FloatField(null=True, blank=True)
    bought_on = models.DateField(null=True, blank=True)
    label = models.JSONField(null=True, blank=True)  # what its own label or analysis says, as typed
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["material", "bought_on", "pk"]

    def __str__(self) -> str:
        return f"{self.kg:g} kg of {self.material}"


class Supplier(models.Model):
    """Somebody who sells: how long delivery takes."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="suppliers")
    name = models.CharField(max_length=80)
    delivery_days = models.PositiveSmallIntegerField(default=7)
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["holding", "name"], name="one_supplier_of_a_name")]

    def __str__(self) -> str:
        return self.name


class SupplierOffer(models.Model):
    """What a supplier asks for a material, and in which bags [own money per kg, kg]."""

    supplier = models.ForeignKey(Supplier, on_delete=models.CASCADE, related_name="offers")
    material = models.CharField(max_length=60)
    price_per_kg = models.FloatField()
    bag_kg = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["material", "price_per_kg", "pk"]
        constraints = [models.UniqueConstraint(fields=["supplier", "material"], name="one_offer_for_a_material")]

    def __str__(self) -> str:
        return f"{self.material} from {self.supplier}"


class LogPhoto(models.Model):
    """A picture of what was done, made small and without what the camera knew of place and person.

    It lies in the database, so that one backup holds all. A photo that no entry points to is what an undo left behind.
    """

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="photos")
    made_at = models.DateTimeField(auto_now_add=True)
    jpeg = models.BinaryField()

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
    lot = models.ForeignKey(StockLot, on_delete=models.SET_NULL, null=True, blank=True, related_name="uses")
    lot_kg = models.FloatField(default=0)
    price_per_kg = models.FloatField(null=True, blank=True)
    supplies = models.JSONField(default=dict, blank=True)  # kg of each nutrient on the plot
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

    def __str__(self) -> str:
        return f"{self.kg:g} kg of {self.name} on {self.plot}"


class PlotSummary(models.Model):
    """What a plot asks for, as its last plan said. It is worked out again when it is stale, or the day or the rules are others.

    `habits` are those of the reader that the words were made for; `teeth` those of the small rake.
    """

    ASKS, OLD, UNTESTED, RESTS = "asks", "old", "untested", "rests"
    RANKS = {ASKS: 0, OLD: 1, UNTESTED: 2, RESTS: 3}

    plot = models.OneToOneField("ground.Plot", on_delete=models.CASCADE, related_name="summary")
    is_stale = models.BooleanField(default=True)
    rank = models.PositiveSmallIntegerField(default=2)
    state = models.CharField(max_length=10, default=UNTESTED)
    asks = models.CharField(max_length=300, blank=True)
    teeth = models.JSONField(default=list, blank=True)
    last_taken = models.DateField(null=True, blank=True)
    computed_on = models.DateField(null=True, blank=True)
    habits = models.CharField(max_length=40, blank=True)
    rules_version = models.CharField(max_length=60, blank=True)

    class Meta:
        indexes = [models.Index(fields=["is_stale"], name="summaries_to_renew")]

    def __str__(self) -> str:
        return f"{self.plot_id}: {self.state}"
