"""What the assessment of a plot means for the materials chosen for it."""

from math import inf

from agronomy.interpret.water import is_salty
from agronomy.model.answers import NeedKind
from agronomy.model.seasons import local_month
from agronomy.plan.assess import Assessment
from agronomy.plan.needs import Answers
from agronomy.products.ground import Ground
from agronomy.products.nitrogen_forms import situations_of
from agronomy.schedule.drip import dripped
from agronomy.schedule.nitrogen_parts import most_at_once
from agronomy.tables import Tables

SPRING_AND_SUMMER = range(3, 9)
SALTY = frozenset({"too_salty", "salty", "sodic"})


def ground_for(found: Assessment, answers: Answers, tables: Tables) -> Ground:
    """The ground as those who choose materials see it. Source: each finding's own.

    Rates and caps in kg/ha.
    """
    is_field, is_rainfed = found.request.plot.kind == "field", found.request.plot.watering in (None, "rain")
    limes = any(need.what == NeedKind.LIME for need in answers.needs())
    return Ground(
        crop=found.request.crop,
        soil=found.soil,
        ph=found.acidity,
        ph_after=found.figures["lime_to"] if limes else found.ph,
        findings=found.nutrients,
        caps=found.request.caps,
        most_n_at_start=most_at_once(found.calendar.season, tables, is_light=found.soil.is_light),
        most_lime_kg_per_ha=2 * answers.dressing.max_kg_per_ha if answers.dressing else inf,
        fed_at_planting=_grows_from_planting(found),
        is_rainfed=is_rainfed,
        situations=situations_of(
            found.request.crop,
            found.acidity,
            is_field=is_field,
            is_rainfed=is_rainfed,
            tables=tables,
            is_dripped_under_film=found.request.plot.is_fed_by_drip and found.request.plot.is_under_film,
        ),
        # under film and glass no rain carries chloride away
        avoids_chloride=found.request.plot.is_under_film or _is_full_of_salt(found, tables),
        is_field=is_field,
        by_drip=dripped(found.calendar) if found.request.plot.is_fed_by_drip else frozenset(),
        # on a field nobody spreads meals by the tonne because a class says salty: strong salts are split and washed in instead
        is_salty=not is_field and any(finding.class_ in SALTY for finding in found.salt.values()),
    )


def _grows_from_planting(found: Assessment) -> bool:
    """Whether the crop is still to be planted, and in spring or summer."""
    calendar = found.calendar
    month = local_month(calendar.anchor.month, found.request.plot.hemisphere)  # six months on is six months back
    return not calendar.stands and not calendar.growing and month in SPRING_AND_SUMMER


def _is_full_of_salt(found: Assessment, tables: Tables) -> bool:
    """Whether water or ground hold so much salt that no more chloride should go on, also where the crop still bears it."""
    salt = found.readings.get("EC")
    too_much = salt is not None and salt.value >= tables.choice.no_chloride_from_ds_per_m.value
    return too_much or is_salty(found.readings, tables) or any(finding.class_ in SALTY for finding in found.salt.values())
