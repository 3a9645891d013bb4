"""The ground: plots of every kind and their shapes, what is planted on them, the water they get, and spots to keep out of."""

from datetime import date

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils import timezone

from agronomy.ground.kinds import litres_of_mix
from agronomy.ground.shapes import measure
from agronomy.intake.request_doc import OwnBufferingDoc, OwnPoolDoc, ResponseDoc
from agronomy.model.ground_facts import FACTS
from agronomy.recommend.schools.registry import NAMES as SCHOOL_NAMES
from web.date_format import said
from web.shaped import Scalar, ShapedField

EARLIEST_DAY, LATEST_DAY = date(1900, 1, 1), date(2199, 12, 31)
DAYS_THAT_CAN_BE = [
    MinValueValidator(EARLIEST_DAY, "That day lies too far back: check the year."),
    MaxValueValidator(LATEST_DAY, "That day lies too far ahead: check the year."),
]
PER_CENT = [MinValueValidator(0.0), MaxValueValidator(100.0)]


class WaterSource(models.Model):
    """A water that plots are watered with: tap, butt, well, pond."""

    class Kind(models.TextChoices):
        TAP = "tap", "tap"
        RAIN = "rain", "rain butt or tank"
        WELL = "well", "well or borehole"
        POND = "pond", "pond, lake or stream"
        SOFTENED = "softened", "softened tap water"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="waters")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=10, choices=Kind, default=Kind.TAP)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["holding", "name"], name="one_water_of_a_name")]

    def __str__(self) -> str:
        return self.name

    @property
    def as_target(self) -> str:
        """How a laboratory file's matching names it."""
        return f"water:{self.pk}"


class PlotsInUse(models.Manager):
    """Every list of plots leaves out the retired ones; `Plot.everything` has them all."""

    def get_queryset(self) -> models.QuerySet:
        return super().get_queryset().filter(retired_on=None)


class _Facts(models.Model):
    """A column for each figure of the ground that the core declares."""

    class Meta:
        abstract = True


for _name in FACTS:
    _Facts.add_to_class(_name, models.FloatField(null=True, blank=True))


class Plot(_Facts):
    """A piece of ground. Sizes are kept in base units (m², cm, m); `sizes` as they were typed; `shape` on the holding's metre grid."""

    class Kind(models.TextChoices):
        BED = "bed", "bed"
        FIELD = "field", "field"
        ZONE = "zone", "zone of a field"
        ROW_BLOCK = "row_block", "block of rows"
        ORCHARD_BLOCK = "orchard_block", "orchard block"
        TREE = "tree", "single tree or shrub"
        LAWN = "lawn", "lawn"
        PASTURE = "pasture", "pasture"
        CONTAINER = "container", "containers"
        BALE = "bale", "straw bales"

    class FreeLime(models.TextChoices):
        UNKNOWN = "", "not tried"
        YES = "yes", "yes, it fizzes"
        NO = "no", "no, it stays quiet"

    class Watering(models.TextChoices):
        UNKNOWN = "", "not said"
        RAIN = "rain", "by rain alone"
        HAND = "hand", "by can or hose"
        SPRINKLER = "sprinkler", "by sprinkler"
        DRIP = "drip", "by drip"
        FURROW = "furrow", "by furrow or flood"

    class Livestock(models.TextChoices):
        NONE = "", "none"
        SHEEP = "sheep", "sheep"
        CATTLE = "cattle", "cattle"
        HORSES = "horses", "horses"
        HENS = "hens", "hens or ducks"
        OTHER = "other", "others"

    class Cover(models.TextChoices):
        UNKNOWN = "", "not said"
        BARE = "bare", "bare soil"
        MULCH = "mulch", "mulch"
        PLANTS = "plants", "plants or turf"
        TUNNEL = "tunnel", "under glass or film"

    class Retired(models.TextChoices):
        MERGED = "merged", "merged into another plot"
        TAKEN_OUT = "taken out", "taken out of use"

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="plots")
    parent = models.ForeignKey("self", on_delete=models.PROTECT, null=True, blank=True, related_name="zones")
    name = models.CharField(max_length=120)
    kind = models.CharField(max_length=14, choices=Kind, default=Kind.BED)
    area_m2 = models.FloatField()
    volume_l = models.FloatField(null=True, blank=True)
    row_m = models.FloatField(null=True, blank=True)
    sizes = ShapedField(of=dict[str, Scalar], default=dict, blank=True)
    depth_cm = models.FloatField()
    texture = models.CharField(max_length=24, blank=True)
    sand_pct = models.FloatField(null=True, blank=True)
    clay_pct = models.FloatField(null=True, blank=True)
    mix = models.CharField(max_length=16, blank=True)
    dug = models.BooleanField(default=True)
    free_lime = models.CharField(max_length=4, choices=FreeLime, blank=True, default=FreeLime.UNKNOWN)
    watering_mm = models.FloatField(null=True, blank=True)  # given in a season
    watering = models.CharField(max_length=10, choices=Watering, blank=True, default=Watering.UNKNOWN)
    water = models.ForeignKey(WaterSource, on_delete=models.SET_NULL, null=True, blank=True, related_name="plots")
    livestock = models.CharField(max_length=8, choices=Livestock, blank=True, default=Livestock.NONE)
    cover = models.CharField(max_length=8, choices=Cover, blank=True, default=Cover.UNKNOWN)
    new_ground_since = models.DateField(null=True, blank=True)
    new_ground_done = ShapedField(of=dict[str, str], default=dict, blank=True)
    school = models.CharField(max_length=16, choices=tuple(SCHOOL_NAMES.items()), blank=True)
    aim = models.CharField(
        max_length=8, blank=True, choices=(("rule", "by rule"), ("money", "least money"), ("fewest", "fewest bags"), ("loss", "least loss"))
    )
    most_bags = models.PositiveSmallIntegerField(null=True, blank=True)
    lost_times = models.FloatField(null=True, blank=True)  # what a lost kilogram of nitrogen weighs beside its price
    wanted = ShapedField(of=list[str], default=list, blank=True)  # materials asked for
    without = ShapedField(of=list[str], default=list, blank=True)  # materials left out
    uncounted = ShapedField(of=list[str], default=list, blank=True)  # automatic credits that are left out
    # how much lime the ground takes beside the table's, as its own tests have shown; plans go by it
    own_buffering = ShapedField(of=OwnBufferingDoc, null=True, blank=True)
    own_pools = ShapedField(of=dict[str, OwnPoolDoc], null=True, blank=True)  # by "P" and "K"
    signs = ShapedField(of=list[str], default=list, blank=True)  # what one sees where nothing was tested
    note = models.TextField(blank=True)
    shape = ShapedField(of=measure, null=True, blank=True)
    # the shape's bounding box, so that a window of the map is one query
    west = models.FloatField(null=True, blank=True)
    south = models.FloatField(null=True, blank=True)
    east = models.FloatField(null=True, blank=True)
    north = models.FloatField(null=True, blank=True)

    # out of use, since when, how, and the plot that it became part of; what happened on it stays
    retired_on = models.DateField(null=True, blank=True)
    retired_as = models.CharField(max_length=10, choices=Retired, blank=True)
    became = models.ForeignKey("self", on_delete=models.PROTECT, null=True, blank=True, related_name="earlier")

    everything = models.Manager()
    objects = PlotsInUse()

    class Meta:
        ordering = ["name", "pk"]
        base_manager_name = "everything"
        default_manager_name = "objects"
        constraints = [
            models.UniqueConstraint(fields=["holding", "name"], condition=models.Q(retired_on=None), name="one_plot_of_a_name"),
            models.CheckConstraint(condition=models.Q(area_m2__gt=0, area_m2__lte=1e8), name="plot_area_can_be"),
            models.CheckConstraint(condition=models.Q(depth_cm__gt=0, depth_cm__lte=200), name="plot_depth_can_be"),
        ]
        indexes = [models.Index(fields=["holding", "west", "east"], name="plots_in_a_window")]

    def __str__(self) -> str:
        return self.name

    @property
    def as_target(self) -> str:
        """How a laboratory file's matching names it."""
        return f"plot:{self.pk}"

    @property
    def litres_of_mix(self) -> float | None:
        """Litres of mix in pots; None for other ground."""
        return litres_of_mix(self.area_m2, self.depth_cm) if self.kind == self.Kind.CONTAINER else None

    @property
    def told_name(self) -> str:
        """Its name, told apart from a later plot of the same name."""
        return self.name if self.retired_on is None else f"{self.name} (until {said(self.retired_on, 'j M Y')})"

    @property
    def planting(self) -> "Planting | None":
        """The crop to plan for: the first that is not over yet, else the last."""
        plantings = list(self.plantings.all())
        open_ = [planting for planting in plantings if planting.ended_on is None or planting.ended_on >= timezone.localdate()]
        if open_:
            return min(open_, key=lambda planting: (planting.planted_on or date.min, planting.pk))
        return plantings[-1] if plantings else None


class Planting(models.Model):
    """A crop on a plot: when it stands, how it is set, what is hoped for and what was got."""

    plot = models.ForeignKey(Plot, on_delete=models.CASCADE, related_name="plantings")
    crop = models.CharField(max_length=40)
    companion = models.CharField(max_length=40, blank=True)  # grows along on the same ground and is fed with it
    planted_on = models.DateField(null=True, blank=True, validators=DAYS_THAT_CAN_BE)
    ended_on = models.DateField(null=True, blank=True, validators=DAYS_THAT_CAN_BE)
    spacing_cm = models.FloatField(null=True, blank=True)
    row_width_cm = models.FloatField(null=True, blank=True)
    yield_goal_t_per_ha = models.FloatField(null=True, blank=True)
    yield_got_t_per_ha = models.FloatField(null=True, blank=True)
    first_grade_pct = models.FloatField(null=True, blank=True, validators=PER_CENT)
    lost_in_store_pct = models.FloatField(null=True, blank=True, validators=PER_CENT)
    target_ph = models.FloatField(null=True, blank=True)
    own_crop = models.ForeignKey("ground.OwnCrop", on_delete=models.SET_NULL, null=True, blank=True, related_name="plantings")
    response = ShapedField(of=ResponseDoc, null=True, blank=True)  # yield by nitrogen and prices, as typed
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["planted_on", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(planted_on=None) | models.Q(planted_on__range=(EARLIEST_DAY, LATEST_DAY)),
                name="planted_on_a_day_that_can_be",
            ),
            models.CheckConstraint(
                condition=models.Q(ended_on=None) | models.Q(ended_on__range=(EARLIEST_DAY, LATEST_DAY)), name="ended_on_a_day_that_can_be"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.crop} on {self.plot}"

    @property
    def chosen_crop(self) -> str:
        """The crop as a menu names it: the table's key, or "own-5" for one of the holding's own."""
        return f"own-{self.own_crop_id}" if self.own_crop_id else self.crop

    def choose_crop(self, chosen: str) -> None:
        """Takes a menu's choice; one of the holding's own brings the crop that it builds on. Raises OwnCrop.DoesNotExist for another's."""
        if chosen.startswith("own-"):
            self.own_crop = OwnCrop.objects.get(pk=chosen.removeprefix("own-"), holding=self.plot.holding_id)
            self.crop = self.own_crop.base
        else:
            self.own_crop, self.crop = None, chosen


class OwnCrop(models.Model):
    """A crop with the holding's own figures: what differs from the crop of the table that it builds on."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="own_crops")
    name = models.CharField(max_length=80)
    base = models.CharField(max_length=40)
    figures = ShapedField(of=dict[str, Scalar], default=dict, blank=True)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["holding", "name"], name="one_own_crop_of_a_name")]

    def __str__(self) -> str:
        return self.name


class NutrientCredit(models.Model):
    """What a plot is given beside bought fertilizer: crops before, green manure, manure, water, straw. Base units; None where not said."""

    class Kind(models.TextChoices):
        LEGUME = "legume", "a legume before"
        CROP_BEFORE = "crop_before", "another crop before, or ploughed grass"
        GREEN_MANURE = "green_manure", "green manure"
        MANURE = "manure", "manure, slurry or compost"
        WATER = "water", "nitrate in the water"
        STRAW = "straw", "straw dug in"

    plot = models.ForeignKey(Plot, on_delete=models.CASCADE, related_name="gifts")
    kind = models.CharField(max_length=14, choices=Kind)
    what = models.CharField(max_length=24, blank=True)
    name = models.CharField(max_length=80, blank=True)
    on = models.DateField(null=True, blank=True)
    rate_t_per_ha = models.FloatField(null=True, blank=True)
    nitrogen_pct = models.FloatField(null=True, blank=True)
    nitrate_n_mg_per_l = models.FloatField(null=True, blank=True)
    water_mm = models.FloatField(null=True, blank=True)
    worked_in = models.CharField(max_length=10, blank=True)
    ammonium_kg_per_t = models.FloatField(null=True, blank=True)
    organic_kg_per_t = models.FloatField(null=True, blank=True)
    counted = models.BooleanField(default=True)

    class Meta:
        ordering = ["on", "pk"]

    def __str__(self) -> str:
        return f"{self.get_kind_display()} on {self.plot}"


class OddSpot(models.Model):
    """A place that samples keep out of: a gateway, an old bonfire, where the heap stood."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="odd_spots")
    x = models.FloatField()
    y = models.FloatField()
    radius_m = models.FloatField(default=1.0)
    note = models.CharField(max_length=80)

    class Meta:
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.note
