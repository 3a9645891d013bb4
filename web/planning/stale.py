"""Marks summaries stale when what they were made from changes."""

from django.db.models.signals import post_delete, post_save
from django.dispatch import receiver

from web.ground.models import NutrientCredit, OwnCrop, Planting, Plot
from web.people.models import Holding
from web.planning.models import PlotSummary
from web.readings.models import LabReport, LabResult
from web.readings.signals import readings_changed
from web.records.models import LogEntry
from web.supplies.models import StockLot, SupplierOffer


def _mark(**where) -> None:
    PlotSummary.objects.filter(is_stale=False, **where).update(is_stale=True)


def all_changed(holding: int) -> None:
    """Marks all summaries of a holding, where rows came or went many at a time."""
    _mark(plot__holding=holding)


@receiver([post_save], sender=Plot)
def plot_changed(instance, **_):
    _mark(plot=instance.pk)


@receiver([post_save, post_delete], sender=Planting)
def planting_changed(instance, **_):
    _mark(plot=instance.plot_id)


@receiver([post_save, post_delete], sender=LabReport)
def slip_changed(instance, **_):
    if instance.plot_id:
        _mark(plot=instance.plot_id)
    if instance.water_id:
        _mark(plot__water=instance.water_id)


@receiver([post_save, post_delete], sender=LabResult)
def line_changed(instance, **_):
    _mark(plot__slips=instance.slip_id)
    _mark(plot__water__slips=instance.slip_id)


@receiver(post_save, sender=Holding)
def habits_changed(instance, **_):
    all_changed(instance.pk)


@receiver(readings_changed)
def many_changed(plot_ids, **_):
    _mark(plot__in=plot_ids)


@receiver([post_save, post_delete], sender=NutrientCredit)
def gift_changed(instance, **_):
    _mark(plot=instance.plot_id)


@receiver([post_save, post_delete], sender=OwnCrop)
def own_crop_changed(instance, **_):
    _mark(plot__holding=instance.holding_id)


@receiver([post_save, post_delete], sender=LogEntry)
def record_changed(instance, **_):
    _mark(plot=instance.plot_id)


@receiver([post_save, post_delete], sender=SupplierOffer)
def offer_changed(instance, **_):
    _mark(plot__holding=instance.supplier.holding_id)


@receiver([post_save, post_delete], sender=StockLot)
def stock_changed(instance, **_):
    _mark(plot__holding=instance.holding_id)
