"""Who works on which holding."""

from allauth.account.models import EmailAddress
from django.contrib.auth.models import AbstractUser, BaseUserManager
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models

from agronomy.intake.limit_docs import ClosedDoc, HandsDoc
from agronomy.intake.own import TargetDoc
from agronomy.intake.request_doc import ClimateDoc
from agronomy.recommend.schools.registry import NAMES as SCHOOL_NAMES
from web.date_format import HABITS
from web.shaped import ShapedField


class UserManager(BaseUserManager):
    """Makes users who sign in by e-mail address."""

    use_in_migrations = True

    def create_user(self, email: str, password: str | None = None, **fields) -> "User":
        user = self.model(email=self.normalize_email(email).lower(), **fields)
        user.set_password(password)
        user.save(using=self._db)
        # whoever runs the server vouches for the address; who signs up by themselves is made by the sign-up form
        EmailAddress.objects.create(user=user, email=user.email, primary=True, verified=True)
        return user

    def get_by_natural_key(self, username: str) -> "User":
        """The user of an address, however its capitals are typed."""
        return self.get(email=username.strip().lower())


class User(AbstractUser):
    """A person, known by e-mail address."""

    username = None
    first_name = None
    last_name = None
    name = models.CharField(max_length=120, blank=True)
    email = models.EmailField(unique=True)

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS: list[str] = []
    objects = UserManager()

    def __str__(self) -> str:
        return self.name or self.email


CAP_RANGE = (0.0, 2000.0)  # kg/ha, as the core takes caps
_CAP = [
    MinValueValidator(CAP_RANGE[0], "A cap is 0 or more."),
    MaxValueValidator(CAP_RANGE[1], "A cap is at most 2000 kg/ha: check the number."),
]


class Holding(models.Model):
    """A farm, garden or allotment: what every plot, reading and plan belongs to."""

    class Units(models.TextChoices):
        METRIC = "metric", "metric (kg, m², cm)"
        UK = "uk", "UK acres (kg, acre, units an acre)"
        US = "us", "US (lb, ft², in)"

    class Hemisphere(models.TextChoices):
        NORTH = "north", "northern (summer in July)"
        SOUTH = "south", "southern (summer in January)"

    class NutrientForm(models.TextChoices):
        OXIDE = "oxide", "as oxides, P₂O₅ and K₂O"
        ELEMENT = "element", "as elements, P and K"

    name = models.CharField(max_length=120)
    units = models.CharField(max_length=8, choices=Units, default=Units.METRIC)
    days = models.CharField(max_length=5, choices=HABITS, default="day")
    hemisphere = models.CharField(max_length=8, choices=Hemisphere, default=Hemisphere.NORTH)
    country = models.CharField(max_length=2, blank=True, help_text="Some countries lime by tables of their own.")
    currency = models.CharField(max_length=8, default="€", help_text="The sign or letters you write before a price.")
    nutrient_form = models.CharField("phosphorus and potassium are written", max_length=8, choices=NutrientForm, default=NutrientForm.OXIDE)
    school = models.CharField(
        "school of fertilizing",
        max_length=16,
        choices=tuple(SCHOOL_NAMES.items()),
        default="sufficiency",
        help_text="How a finding becomes a need. A plot may go by another.",
    )
    organic_only = models.BooleanField("only materials that organic rules usually allow", default=False)
    chloride = models.BooleanField("materials with chloride may be used", default=True)
    adviser_enters = models.BooleanField(
        "advisers may enter readings and plan samples", default=False, help_text="They never change plots, adopt plans or take things out."
    )
    # the owner's caps on one year's fertilizer, and critical levels of the owner's own: [{"analyte", "method", "level"}]
    cap_n_kg_per_ha = models.FloatField("most nitrogen in a year, kg/ha", null=True, blank=True, validators=_CAP)
    cap_p2o5_kg_per_ha = models.FloatField("most phosphate (P₂O₅) in a year, kg/ha", null=True, blank=True, validators=_CAP)
    levels = ShapedField(of=list[TargetDoc], default=list, blank=True)
    equipment = ShapedField(of=list[str], default=list, blank=True)  # keys of the core's table of equipment
    # a climate of the core's table by key, or one's own means as the core's request takes them
    climate = models.CharField(max_length=30, blank=True)
    own_climate = ShapedField(of=ClimateDoc, null=True, blank=True)
    # working days and days away, and closed seasons, each as the core's request takes them
    hands = ShapedField(of=HandsDoc, default=dict, blank=True)
    closed = ShapedField(of=list[ClosedDoc], default=list, blank=True)
    # where the metre grid's zero lies on Earth, once boundaries with longitude and latitude were read in
    origin_lon = models.FloatField(null=True, blank=True)
    origin_lat = models.FloatField(null=True, blank=True)
    members = models.ManyToManyField(User, through="Membership", related_name="holdings")

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(cap_n_kg_per_ha=None) | models.Q(cap_n_kg_per_ha__range=CAP_RANGE), name="nitrogen_cap_can_be"
            ),
            models.CheckConstraint(
                condition=models.Q(cap_p2o5_kg_per_ha=None) | models.Q(cap_p2o5_kg_per_ha__range=CAP_RANGE), name="phosphate_cap_can_be"
            ),
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def origin(self) -> tuple[float, float] | None:
        """Longitude and latitude of the metre grid's zero, where they are known."""
        return None if self.origin_lon is None or self.origin_lat is None else (self.origin_lon, self.origin_lat)


class Membership(models.Model):
    """A person's place on a holding, with the units they like to read."""

    class Role(models.TextChoices):
        OWNER = "owner", "owner"
        WORKER = "worker", "worker"
        ADVISER = "adviser", "adviser"

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="memberships")
    holding = models.ForeignKey(Holding, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=8, choices=Role, default=Role.OWNER)
    units = models.CharField(max_length=8, choices=Holding.Units, blank=True)
    waved_off = models.JSONField(default=list, blank=True)  # sayings that this person need not be told again

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "holding"], name="one_membership_each")]

    def __str__(self) -> str:
        return f"{self.user} on {self.holding}"


class Invitation(models.Model):
    """A link that lets one person join a holding, once; only the hash of its token is kept."""

    holding = models.ForeignKey(Holding, on_delete=models.CASCADE, related_name="invitations")
    role = models.CharField(max_length=8, choices=Membership.Role)
    token_sha256 = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="invitations_made")
    serves_until = models.DateTimeField()
    used_at = models.DateTimeField(null=True, blank=True)
    used_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, blank=True, related_name="invitations_used")

    def __str__(self) -> str:
        return f"{self.get_role_display()} of {self.holding}"


class PeopleEvent(models.Model):
    """A line of the trail: who let whom in, changed a role or took somebody out."""

    holding = models.ForeignKey(Holding, on_delete=models.CASCADE, related_name="people_events")
    at = models.DateTimeField(auto_now_add=True)
    by = models.CharField(max_length=254)
    what = models.CharField(max_length=300)

    class Meta:
        ordering = ["-at", "-pk"]

    def __str__(self) -> str:
        return f"{self.by}: {self.what}"
