"""Plots of a holding, and only of that one."""

from django.db.models import QuerySet

from web.ground.models import Plot


def plots_of(holding) -> QuerySet[Plot]:
    """The holding's plots with their plantings: two queries for any number of them."""
    return Plot.objects.filter(holding=holding).prefetch_related("plantings")
