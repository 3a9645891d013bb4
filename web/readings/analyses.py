"""What an analysis of a lime, a bag or a manure is worth, for the forms that take it over."""

from django.shortcuts import get_object_or_404

from agronomy.base.errors import RuleError
from agronomy.products.labels import Worth, worth
from web.core import tables
from web.query_params import key_of
from web.readings.models import LabReport
from web.readings.past import readings_of


def analysis_asked_for(request) -> tuple[LabReport, Worth] | None:
    """The slip of a material that `?analysis=` names, with its worth; None where none is asked for or it can't be read."""
    asked = key_of(request.GET.get("analysis"))
    if asked is None:
        return None
    slip = get_object_or_404(LabReport, pk=asked, holding=request.place.holding, medium=LabReport.Medium.MATERIAL)
    try:
        return slip, worth(readings_of(slip.lines.select_related("slip")), tables())
    except RuleError:
        return None
