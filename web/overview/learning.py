"""What there is to learn from: trials, results of years, practice, what is said, and where people disagree."""

from django import forms
from django.shortcuts import render
from django.utils import timezone

from agronomy.trial.results import Prices, YearResult, before_after
from web.core import tables
from web.ground.crop_field import planting_name
from web.ground.fields import NumberField
from web.ground.models import Planting
from web.people.models import Holding
from web.records.selectors import log_of
from web.trials.models import Trial

SHOWN = 6


class ChangeForm(forms.Form):
    """A plot, its crop and two years to lay side by side."""

    plot = forms.MultipleChoiceField(label="Plots that had the change", help_text="Several of one crop tell more than one.")
    before = forms.IntegerField(label="Year before the change", min_value=1950, max_value=2200)
    after = forms.IntegerField(label="Year after it", min_value=1950, max_value=2200)
    price = NumberField(low=0, high=1e6, label="Price of a tonne", required=False)
    second = NumberField(low=0, high=1e6, label="Of a tonne of second grade", required=False)
    handling = NumberField(low=0, high=1e6, label="To pick and handle a tonne", required=False)
    more = NumberField(low=0, high=1e6, label="Other costs of the change, a hectare", required=False, help_text="Work, passes, water.")

    def __init__(self, *args, choices: list[tuple[str, str]], **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["plot"].choices = choices

    def clean_plot(self) -> tuple[list[str], str]:
        """The plots and their one crop."""
        told = [choice.rpartition("|") for choice in self.cleaned_data["plot"]]
        if len({crop for _, _, crop in told}) > 1:
            raise forms.ValidationError("Choose plots of one crop: two crops can’t be learnt from together.")
        return [plot for plot, _, _ in told], told[0][2]

    def prices(self) -> Prices:
        data = self.cleaned_data
        return Prices(
            first=data["price"] or 0.0,
            second=(data["price"] or 0.0) if data["second"] is None else data["second"],
            handling=data["handling"] or 0.0,
            more_per_ha=data["more"] or 0.0,
        )


def learn(request):
    """The first page of it."""
    trials = Trial.objects.filter(holding=request.place.holding).select_related("plot").order_by("-begun_on")[:SHOWN]
    return render(request, "overview/learn.html", {"trials": trials})


def both_sides(request):
    """Where practitioners disagree: both sides, and what is done here."""
    return render(request, "overview/both_sides.html", {"rows": tables().watch.both_sides.values()})


def results_of(holding: Holding) -> list[tuple[YearResult, str]]:
    """What every plot yielded, by year, with the crop's name; money is what the log says was put on that year."""
    spent: dict[tuple[int, int], float] = {}
    for entry in log_of(holding):
        key = (entry.plot_id, entry.done_on.year)
        spent[key] = spent.get(key, 0.0) + entry.kg * (entry.price_per_kg or 0.0)
    found = []
    weighed = Planting.objects.filter(plot__holding=holding, yield_got_t_per_ha__isnull=False, ended_on__isnull=False)
    for planting in weighed.select_related("plot", "own_crop").order_by("plot__name", "ended_on"):
        plot, year = planting.plot, planting.ended_on.year
        money = spent.get((plot.pk, year), 0.0) / plot.area_m2 * 10_000
        result = YearResult(
            plot=plot.told_name,
            crop=planting.chosen_crop,
            year=year,
            t_per_ha=planting.yield_got_t_per_ha,
            money_per_ha=money,
            first_grade=1.0 if planting.first_grade_pct is None else planting.first_grade_pct / 100,
            lost=(planting.lost_in_store_pct or 0.0) / 100,
        )
        found.append((result, planting_name(planting)))
    return found


def results(request):
    """Yields by plot and year, and two years laid side by side with what other plots did."""
    holding = request.place.holding
    rows = results_of(holding)
    names = {f"{row.plot}|{row.crop}": f"{row.plot}, {name}" for row, name in rows}
    asked = request.GET if "plot" in request.GET else None
    year = timezone.localdate().year
    form = ChangeForm(asked, choices=list(names.items()), initial={"before": year - 2, "after": year - 1})
    told = None
    if form.is_bound and form.is_valid():
        data = form.cleaned_data
        told = before_after([row for row, _ in rows], data["plot"][0], data["plot"][1], (data["before"], data["after"]), form.prices())
        if told is None:
            form.add_error(None, "A yield is missing for one of these years. Add with the crop, or choose others.")
    graded = any(row.first_grade < 1 or row.lost for row, _ in rows)
    context = {"rows": rows, "form": form, "told": told, "graded": graded, "currency": holding.currency}
    return render(request, "overview/results.html", context, status=422 if form.errors else 200)
