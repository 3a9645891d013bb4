"""The log of a holding."""

from django.db.models import QuerySet

from agronomy.tables.material import P_IN_P2O5
from web.records.models import LogEntry


def log_of(holding) -> QuerySet[LogEntry]:
    """Entries that stand: those that were corrected are told by what corrects them."""
    return LogEntry.objects.filter(holding=holding, stands=True).select_related("plot", "by", "job", "corrects")


def caps_of(holding) -> dict[str, float]:
    """The owner's caps [kg of the element/ha in a year]."""
    phosphorus = holding.cap_p2o5_kg_per_ha and holding.cap_p2o5_kg_per_ha * P_IN_P2O5
    return {key: cap for key, cap in {"N": holding.cap_n_kg_per_ha, "P": phosphorus}.items() if cap is not None}
