"""Which rows make a holding, in an order in which each comes after what it points to."""

from dataclasses import dataclass

from django.db import models

from web.desks.models import OwnBlend, SpreaderRun
from web.ground.models import NutrientCredit, OddSpot, OwnCrop, Planting, Plot, WaterSource
from web.jobs.models import Job, OwnProgramme
from web.people.models import Holding
from web.planning.models import AdoptedPlan, PlanProposal
from web.readings.models import KitRun, LabFile, LabHabit, LabReport, LabResult, MeterSession, OwnKit, OwnLeafCard
from web.records.models import LogEntry, LogPhoto
from web.sampling.models import Sample, SamplingRound
from web.sensors.models import Gateway, Probe, ProbeReading
from web.supplies.models import StockLot, Supplier, SupplierOffer
from web.trials.models import Trial

FORMAT = 1


@dataclass(frozen=True, slots=True)
class Table:
    """The rows of a model that belong to a holding, and how they hang on it; `apart` are columns kept as files of their own."""

    name: str
    model: type[models.Model]
    owner: str = "holding"
    apart: tuple[str, ...] = ()
    secret: tuple[str, ...] = ()  # columns that never leave the server: they are made anew
    own: bool = False  # hangs on nothing but the holding, and may be put back beside what is there

    def rows(self, holding: Holding) -> models.QuerySet:
        return self.model._base_manager.filter(**{self.owner: holding}).order_by("pk")

    def fields(self) -> list[models.Field]:
        """The columns that are written down."""
        return [
            field for field in self.model._meta.concrete_fields if not field.primary_key and field.name not in (*self.apart, *self.secret)
        ]


TABLES = (
    Table("waters", WaterSource, own=True),
    Table("own_crops", OwnCrop, own=True),
    Table("plots", Plot),
    Table("plantings", Planting, "plot__holding"),
    Table("credits", NutrientCredit, "plot__holding"),
    Table("odd_spots", OddSpot),
    Table("lots", StockLot, own=True),
    Table("suppliers", Supplier, own=True),
    Table("offers", SupplierOffer, "supplier__holding", own=True),
    Table("lab_files", LabFile, apart=("content",)),
    Table("lab_habits", LabHabit, own=True),
    Table("rounds", SamplingRound),
    Table("samples", Sample, "round__holding"),
    Table("reports", LabReport),
    Table("results", LabResult, "slip__holding"),
    Table("own_kits", OwnKit, own=True),
    Table("own_leaf_cards", OwnLeafCard, own=True),
    Table("kit_runs", KitRun),
    Table("meter_sessions", MeterSession),
    Table("gateways", Gateway, secret=("token_sha256",)),
    Table("probes", Probe, "gateway__holding"),
    Table("probe_readings", ProbeReading, "probe__gateway__holding"),
    Table("own_programmes", OwnProgramme, own=True),
    Table("own_blends", OwnBlend, own=True),
    Table("spreader_runs", SpreaderRun, own=True),
    Table("adopted_plans", AdoptedPlan, "plot__holding"),
    Table("proposals", PlanProposal, "plot__holding"),
    Table("jobs", Job),
    Table("photos", LogPhoto, apart=("jpeg",)),
    Table("log", LogEntry),
    Table("trials", Trial),
)
# What is in no archive, and why: derived, of a person and not of the holding, or only for undoing.
NOT_KEPT = {
    "planning.PlotSummary",
    "jobs.CalendarFeed",
    "people.Membership",
    "people.Invitation",
    "people.OpenSession",
    "practice.PracticeBox",
    "api.ApiToken",
    "api.ApiWrite",
    "people.PeopleEvent",
    "people.User",
    "people.Holding",
    "changes.Change",
    "changes.SentForm",
}
HOLDING_LEFT_OUT = ("id", "name")
