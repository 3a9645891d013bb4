"""Salt in a plot: what was read, what the crop bears, and how much water washes it down, as a job."""

from datetime import timedelta

from django import forms
from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RuleError
from agronomy.interpret.leaching import WAYS, Flush, flush_ground, flush_pots
from agronomy.interpret.salinity import yield_at
from web.core import error_text, tables
from web.desks.common import DeskForm, assessed
from web.ground.fields import NumberField
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.jobs.intent import put_on_list
from web.jobs.models import Job

IN_A_WEEK = timedelta(days=7)


class FlushForm(DeskForm):
    """Salt now and wanted, and how the water is given."""

    now = NumberField(low=0.05, high=60, label="Salt now, dS/m in the saturated paste")
    wanted = NumberField(low=0.05, high=60, label="Salt wanted, dS/m")
    way = forms.ChoiceField(label="The water is given", choices=list(WAYS.items()))
    usual = {"way": "soaks"}

    def __init__(self, query, *, pots: bool, **kwargs):
        super().__init__(query, **kwargs)
        if pots:
            self.fields["now"].label = "Salt now, dS/m in the extract of the mix"
            del self.fields["way"]


def flush(request, pk: int):
    """The reckoning in the address; posting it puts the work on the list."""
    plot, today = plot_or_404(request, pk), timezone.localdate()
    found, pots = assessed(request, plot, today), plot.kind == Plot.Kind.CONTAINER
    salt = found.salt.get("EC") if found else None
    bears = yield_at(1.0, found.request.crop, tables())[1] if found else None
    wanted = tables().salinity.pot_wanted.value if pots else bears
    usual = {name: f"{value:.2g}" for name, value in (("now", salt and salt.value), ("wanted", wanted)) if value}
    form = FlushForm(request.GET, pots=pots, us=request.place.units == "us", usual=FlushForm.usual | usual)
    context = {"plot": plot, "form": form, "pots": pots, "salt": salt, "bears": bears, "crop": found.request.crop if found else None}
    if form.is_bound and form.is_valid():
        try:
            told = _told(
                form.cleaned_data, plot, is_peat=bool(found and found.soil.organic_matter_pct >= tables().choice.peat_from_om_pct.value)
            )
        except RuleError as error:
            return render(request, "desks/flush.html", context | {"error": error_text(error)}, status=422)
        says = _says(told, request.place.units)
        if request.method == "POST" and told.amount:
            return _put_on_list(request, plot, says, today)
        context |= {"told": told, "says": says, "left": f"{told.share_left * 100:.0f} %", "asked": request.GET.urlencode()}
    return render(request, "desks/flush.html", context, status=422 if form.errors else 200)


def _told(data: dict, plot: Plot, *, is_peat: bool) -> Flush:
    if litres := plot.litres_of_mix:
        return flush_pots(data["now"], data["wanted"], litres, tables())
    return flush_ground(data["now"], data["wanted"], plot.depth_cm, data["way"], tables(), is_peat=is_peat)


def _says(told: Flush, units: str) -> dict:
    """The water in words, with its range; on ground also in how many soaks."""
    if told.unit == "L":
        amount, low, high = (
            showing.in_unit(value, "L", "gal" if units == "us" else "L", 2) for value in (told.amount, told.low, told.high)
        )
        return {"amount": amount, "low": low, "high": high, "parts": "in two goes, half an hour apart"}
    amount, low, high = (showing.rainfall(value, units) for value in (told.amount, told.low, told.high))
    soak = tables().salinity.soak_mm
    count = max(1, round(told.amount / soak.value))
    return {
        "amount": amount,
        "low": low,
        "high": high,
        "parts": f"in {count} soak{'s' if count > 1 else ''} of {showing.rainfall(told.amount / count, units)}",
    }


def _put_on_list(request, plot: Plot, says: dict, today):
    job = Job(
        holding_id=plot.holding_id,
        plot=plot,
        name=f"Wash the salt down with {says['amount']} of water, {says['parts']}"[:120],
        what="flush",
        kg=0,
        origin=Job.Origin.DESK,
        origin_name="salt",
        why="There is more salt than the crop tolerates. Test again before the next feed.",
        from_day=today,
        to_day=today + IN_A_WEEK,
    )
    label = f"Washing the salt out of {plot.name} was added to jobs"
    return put_on_list(request, plot, [job], label, about="washing the salt out") or redirect("jobs:jobs")
