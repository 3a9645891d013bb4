"""Slips of results, kept as they were typed or read: of soil, water, leaves and materials; and the files they came from."""

from django.conf import settings
from django.db import models
from django.db.models import Q

from agronomy.instruments.kits import Kit, kit_from_document
from agronomy.tables.rooms.documents import LeafCard
from web.core import tables
from web.shaped import Scalar, ShapedField
from web.storing import StoredBytesField


class LabFile(models.Model):
    """A laboratory's file, untouched, with what was answered about it and what it became.

    `answers` by the reader's question keys, `overrides` by place in the file, `matching` from a sample's name in the file to
    "plot:<pk>", "sample:<pk>", "water:<pk>" or "" (leave out).
    """

    class State(models.TextChoices):
        LOOKING = "looking", "being looked at"
        REFUSED = "refused", "can’t be read"
        OPEN = "open", "to be looked over"
        READING = "reading", "being read in"
        IN = "in", "read in"
        UNDONE = "undone", "taken out again"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="lab_files")
    name = models.CharField(max_length=200)
    content = StoredBytesField()
    sha256 = models.CharField(max_length=64)
    lab = models.CharField(max_length=120, blank=True)
    medium = models.CharField(max_length=10, default="soil")
    sampled_on = models.DateField(null=True, blank=True)
    answers = ShapedField(of=dict[str, str], default=dict, blank=True)
    overrides = ShapedField(of=dict[str, dict[str, Scalar]], default=dict, blank=True)
    matching = ShapedField(of=dict[str, str], default=dict, blank=True)
    state = models.CharField(max_length=8, choices=State, default=State.OPEN)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    remarks = ShapedField(of=list[tuple[int, str]], default=list, blank=True)
    worked_at = models.DateTimeField(null=True, blank=True)  # when the worker last touched it; None for what needs no worker
    uploaded_at = models.DateTimeField(auto_now_add=True)
    uploaded_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def by_worker(self) -> bool:
        """Whether it is so large that the worker looks at it."""
        return self.worked_at is not None


class LabHabit(models.Model):
    """What was answered once about a laboratory's files, to be answered the same next time."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="lab_habits")
    lab = models.CharField(max_length=120)
    answers = ShapedField(of=dict[str, str], default=dict)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["holding", "lab"], name="one_habit_a_laboratory")]

    def __str__(self) -> str:
        return self.lab


class LabReport(models.Model):
    """A sheet of results for one plot, water or material: who measured, how and when."""

    class How(models.TextChoices):
        LAB = "lab", "a laboratory"
        KIT = "kit", "a colour kit"
        METER = "meter", "a meter, calibrated today"
        PROBE = "probe", "a probe without a battery"
        STRIP = "strip", "a paper strip"
        SENSOR = "sensor", "a sensor left in place"
        CARD = "leaf_card", "a leaf colour card"
        TISSUE = "tissue", "a laboratory of leaves"
        LABEL = "label", "the label or data sheet"

    class Medium(models.TextChoices):
        SOIL = "soil", "soil"
        WATER = "water", "water"
        LEAF = "leaf", "leaves"
        MATERIAL = "material", "a material"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="slips")
    medium = models.CharField(max_length=10, choices=Medium, default=Medium.SOIL)
    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="slips", null=True, blank=True)
    water = models.ForeignKey("ground.WaterSource", on_delete=models.CASCADE, related_name="slips", null=True, blank=True)
    material = models.CharField(max_length=120, blank=True)
    sample = models.ForeignKey("sampling.Sample", on_delete=models.SET_NULL, related_name="slips", null=True, blank=True)
    source_file = models.ForeignKey(LabFile, on_delete=models.SET_NULL, related_name="slips", null=True, blank=True)
    lab = models.CharField(max_length=120, blank=True)
    how = models.CharField(max_length=10, choices=How, default=How.LAB)
    taken_on = models.DateField()
    top_cm = models.FloatField(null=True, blank=True)
    bottom_cm = models.FloatField(null=True, blank=True)
    stage = models.CharField(max_length=80, blank=True)
    position = models.CharField(max_length=120, blank=True)
    note = models.TextField(blank=True)
    written_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-taken_on", "-pk"]
        indexes = [
            models.Index(fields=["holding", "-taken_on", "-id"], name="ledger_by_day"),
            models.Index(fields=["plot", "-taken_on", "-id"], name="ledger_of_a_plot"),
        ]
        constraints = [
            models.CheckConstraint(
                condition=Q(plot__isnull=False) | Q(water__isnull=False) | ~Q(material=""),
                name="a_slip_is_about_something",
            )
        ]

    def __str__(self) -> str:
        return f"{self.lab or self.get_how_display()}, {self.taken_on}"

    @property
    def about(self) -> str:
        """What was tested, by name."""
        return str(self.plot or self.water or self.material)


class LabResult(models.Model):
    """One line of a slip: the value exactly as typed, its unit and method.

    `kind` is "reading", or "kept" for what is written on the slip but can't be reckoned with (an analyte we do not know, a
    word for a number): `heading` then says what it stood under. `settled`: the user says a doubt is unfounded. `rating` is the
    laboratory's own. `own_error` is a standard error in base units, where it was measured.
    """

    class Kind(models.TextChoices):
        READING = "reading", "reading"
        KEPT = "kept", "kept as written"

    slip = models.ForeignKey(LabReport, on_delete=models.CASCADE, related_name="lines")
    place = models.PositiveSmallIntegerField()
    kind = models.CharField(max_length=8, choices=Kind, default=Kind.READING)
    analyte = models.CharField(max_length=24, blank=True)
    heading = models.CharField(max_length=120, blank=True)
    typed = models.CharField(max_length=200)
    unit = models.CharField(max_length=24, blank=True)
    method = models.CharField(max_length=40, blank=True)
    rating = models.CharField(max_length=40, blank=True)
    doubt = models.CharField(max_length=300, blank=True)
    own_error = models.FloatField(null=True, blank=True)
    settled = models.BooleanField(default=False)

    class Meta:
        ordering = ["place", "pk"]

    def __str__(self) -> str:
        return f"{self.analyte or self.heading} {self.typed} {self.unit}"


def _kit(document: dict) -> Kit:
    return kit_from_document(document, tables())


# where the figures of a card of one's own come from
OWN_ORIGIN = {"source": "user-value", "where": "described by its owner", "status": "unsure"}


class OwnKit(models.Model):
    """A colour kit that a user described (see agronomy.instruments.kits)."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="kits")
    key = models.CharField(max_length=40)
    document = ShapedField(of=_kit)

    class Meta:
        ordering = ["key"]
        constraints = [models.UniqueConstraint(fields=["holding", "key"], name="one_kit_of_a_key")]

    def __str__(self) -> str:
        return self.document.get("name", self.key)


def _leaf_card(document: dict) -> LeafCard:
    return LeafCard.model_validate(document | OWN_ORIGIN)


class OwnLeafCard(models.Model):
    """A leaf colour card that a user described (see agronomy.instruments.leaf_card)."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="leaf_cards")
    key = models.CharField(max_length=40)
    document = ShapedField(of=_leaf_card)

    class Meta:
        ordering = ["key"]
        constraints = [models.UniqueConstraint(fields=["holding", "key"], name="one_leaf_card_of_a_key")]

    def __str__(self) -> str:
        return self.document.get("name", self.key)


class KitRun(models.Model):
    """A test under way: the step it stands at and the moment that step's time began, so that no reload or lock loses it."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="kit_runs")
    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="kit_runs", null=True, blank=True)
    water = models.ForeignKey("ground.WaterSource", on_delete=models.CASCADE, related_name="kit_runs", null=True, blank=True)
    kit = models.CharField(max_length=60)
    test = models.CharField(max_length=40)
    step = models.PositiveSmallIntegerField(default=0)
    step_began_at = models.DateTimeField(null=True, blank=True)
    early_seconds = models.PositiveIntegerField(default=0)  # of waiting and shaking that was left out
    slip = models.ForeignKey(LabReport, on_delete=models.SET_NULL, null=True, blank=True, related_name="kit_runs")
    began_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.kit} {self.test} on {self.about}"

    @property
    def about(self) -> str:
        """What is tested, by name."""
        return str(self.plot or self.water)


class MeterSession(models.Model):
    """A morning with the pH meter: its calibration, then one reading after another on a plot.

    `buffers` are [{"ph", "mv"}, {"ph", "mv"}] at `temperature_c`; `readings` are [{"ph", "temperature_c", "spread"}].
    `put_in_at` is when the electrode went into the present slurry, None between two.
    """

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="meter_sessions")
    plot = models.ForeignKey("ground.Plot", on_delete=models.PROTECT, related_name="meter_sessions")
    meter = models.CharField(max_length=80, blank=True)
    method = models.CharField(max_length=40, default="water 1:2.5")
    buffers = ShapedField(of=list[dict[str, float]], default=list)
    temperature_c = models.FloatField(default=20.0)
    readings = ShapedField(of=list[dict[str, float | None]], default=list)
    put_in_at = models.DateTimeField(null=True, blank=True)
    slip = models.ForeignKey(LabReport, on_delete=models.SET_NULL, null=True, blank=True, related_name="meter_sessions")
    began_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.meter or 'meter'} on {self.plot}, {self.began_at:%Y-%m-%d}"
