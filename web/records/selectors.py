"""The log of a holding."""

from django.db.models import QuerySet

from web.records.models import LogEntry


def log_of(holding) -> QuerySet[LogEntry]:
    """Entries that stand: those that were corrected are told by what corrects them."""
    return LogEntry.objects.filter(holding=holding, stands=True).select_related("plot", "by", "job", "corrects")
