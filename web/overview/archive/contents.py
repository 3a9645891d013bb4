"""Which rows make a holding, in an order in which each comes after what it points to."""

from dataclasses import dataclass

from django.db import models

from web.desks.models import OwnBlend, SpreaderRun
from web.ground.models import NutrientCredit, OddSpot, OwnCrop, Planting, Plot, WaterSource
from web.jobs.models import Job, OwnProgramme
from web.people.models import Holding
from web.planning.models import AdoptedPlan, PlanProposal
from web.readings.models import KitRun, LabFile, LabHabit, LabReport, LabResult, MeterSession, OwnKit, OwnLeafCard
from web.records.models import LogEntry, LogPhoto, Sighting
from web.sampling.models import Sample, SamplingRound
from web.sensors.models import Gateway, Probe, ProbeReading
from web.supplies.models import StockLot, Supplier, SupplierOffer
from web.trials.models import Trial, TrialPhoto

FORMAT = 1


@dataclass(frozen=True, slots=True)
class Table:
    """The rows of a model that belong to a holding, and how they hang on it; `apart` are columns kept as files of their own."""

    name: str
    model: type[models.Model]
    owner: str = "holding"
    apart: tuple[str, ...] = ()
    secret: tuple[str, ...] = ()  # columns that never leave the server: they are made anew
    part: str = ""  # the part by which it can be put back alone

    def rows(self, holding: Holding) -> models.QuerySet:
        return self.model._base_manager.filter(**{self.owner: holding}).order_by("pk")

    def fields(self) -> list[models.Field]:
        """The columns that are written down."""
        return [
            field for field in self.model._meta.concrete_fields if not field.primary_key and field.name not in (*self.apart, *self.secret)
        ]


TABLES = (
    Table("waters", WaterSource, part="own"),
    Table("own_crops", OwnCrop, part="own"),
    Table("plots", Plot, part="plots"),
    Table("plantings", Planting, "plot__holding", part="plots"),
    Table("credits", NutrientCredit, "plot__holding", part="plots"),
    Table("odd_spots", OddSpot, part="plots"),
    Table("lots", StockLot, part="own"),
    Table("suppliers", Supplier, part="own"),
    Table("offers", SupplierOffer, "supplier__holding", part="own"),
    Table("lab_files", LabFile, apart=("content",), part="readings"),
    Table("lab_habits", LabHabit, part="own"),
    Table("rounds", SamplingRound, part="readings"),
    Table("samples", Sample, "round__holding", part="readings"),
    Table("reports", LabReport, part="readings"),
    Table("results", LabResult, "slip__holding", part="readings"),
    Table("own_kits", OwnKit, part="own"),
    Table("own_leaf_cards", OwnLeafCard, part="own"),
    Table("kit_runs", KitRun, part="readings"),
    Table("meter_sessions", MeterSession, part="readings"),
    Table("gateways", Gateway, secret=("token_sha256",)),
    Table("probes", Probe, "gateway__holding"),
    Table("probe_readings", ProbeReading, "probe__gateway__holding"),
    Table("own_programmes", OwnProgramme, part="own"),
    Table("own_blends", OwnBlend, part="own"),
    Table("spreader_runs", SpreaderRun, part="own"),
    Table("adopted_plans", AdoptedPlan, "plot__holding"),
    Table("proposals", PlanProposal, "plot__holding"),
    Table("jobs", Job),
    Table("photos", LogPhoto, apart=("jpeg",), part="log"),
    Table("log", LogEntry, part="log"),
    Table("sightings", Sighting, part="log"),
    Table("trials", Trial),
    Table("trial_photos", TrialPhoto, "trial__holding"),
)
# What can be put back by itself, beside what is there: what hangs on plots finds them by their names.
PARTS = {
    "own": "What is your own: shed, suppliers, waters, crops, kits, programmes, blends",
    "plots": "Plots with their crops",
    "readings": "Readings, with samples and laboratory files",
    "log": "The log and what was seen, with photos",
}
# What is in no archive, and why: derived, of a person and not of the holding, or only for undoing.
NOT_KEPT = {
    "planning.PlotSummary",
    "jobs.CalendarFeed",
    "people.Membership",
    "people.Invitation",
    "practice.PracticeBox",
    "practice.PracticeSet",
    "practice.SetProgress",
    "api.ApiToken",
    "api.ApiWrite",
    "people.PeopleEvent",
    "people.User",
    "people.Holding",
    "changes.Change",
    "changes.SentForm",
}
HOLDING_LEFT_OUT = ("id", "name")
