"""Which crop would fit where: plots by crops as a table, a crop in hand on the map, and a crop tried on a plot before it is planned."""

from dataclasses import replace

from django.core.paginator import Paginator
from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from agronomy.base.errors import RequestError
from agronomy.ground.succession import Stand, poor_followers
from agronomy.intake.request import read_request
from agronomy.model.request import Request
from agronomy.plan.plan import Plan, make_plan
from agronomy.whatif.fit import Fit, best_crops, fit, fits_of
from web.changes.undo import undoable
from web.core import crop_choices, tables
from web.drawing.ground_map import MapDrawing, PlotOnMap, ground_map
from web.ground.models import Planting, Plot
from web.ground.selectors import extent_of, plot_or_404, plots_to_plan
from web.ground.view_window import frame_of
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import lines_by_plot, reader_for
from web.supplies.stock import Stock, stock_of

MOST_CROPS, ON_A_PAGE, BEST, MOST_ON_MAP = 6, 12, 4, 60


def fits(request):
    """The chosen crops on every plot with readings, and for each plot the best of all crops of their kind."""
    known = tables().crops
    chosen = list(dict.fromkeys(key for key in request.GET.getlist("crop") if key in known))[:MOST_CROPS]
    if not chosen:
        chosen = _own_crops(request)
    hand = request.GET.get("hand", "")
    hand = hand if hand in known else next(iter(chosen), "")
    page = Paginator(_tested(request), ON_A_PAGE).get_page(request.GET.get("page"))
    lines = lines_by_plot(list(page))
    stock = stock_of(request.place.holding.pk)
    rows = [_row(request, plot, lines[plot.pk], chosen, stock) for plot in page]
    context = {
        "rows": rows,
        "page": page,
        "chosen": chosen,
        "crops": [known[key] for key in chosen],
        "hand": known.get(hand),
        "drawing": _map(request, hand) if hand else None,
        "choices": crop_choices()[1:],
        "query": "".join(f"&crop={key}" for key in chosen),
        "most": MOST_CROPS,
    }
    return render(request, "planning/fits.html", context)


def _tested(request):
    """Plots with readings of soil, but for fields in zones and bales."""
    found = plots_to_plan(request.place.holding).filter(zones=None, slips__medium="soil").exclude(kind=Plot.Kind.BALE)
    return found.distinct()


def _own_crops(request) -> list[str]:
    """The crops that the holding grows, as a beginning."""
    keys = Planting.objects.filter(plot__holding=request.place.holding).values_list("crop", flat=True).order_by("crop").distinct()
    return [key for key in keys if key in tables().crops][: MOST_CROPS - 2]


def _asked(request, plot: Plot, lines: list, instead: str, stock: Stock | None = None) -> Request | None:
    """The core's request for a plot, with a crop to stand in where none is planned; None where a reading needs attention."""
    planting = plot.planting or Planting(plot=plot, crop=instead or "mixed_vegetables")
    try:
        return read_request(
            request_document(plot, planting, lines, today=timezone.localdate(), units=request.place.units, stock=stock), tables()
        )
    except RequestError:
        return None


def _row(request, plot: Plot, lines: list, chosen: list[str], stock: Stock) -> dict:
    asked = _asked(request, plot, lines, next(iter(chosen), ""), stock)
    if asked is None:
        return {"plot": plot, "cells": [], "best": []}
    planned = plot.planting.crop if plot.planting else ""
    found = fits_of(asked, [tables().crops[key] for key in chosen], tables())
    cells = [(cell, cell.crop == planned) for cell in found]
    peers = [crop for crop in tables().crops.values() if crop.group == asked.crop.group]
    best = [item.name for item in best_crops(asked, peers, tables())[:BEST] if item.word == "well"]
    return {"plot": plot, "cells": cells, "best": best}


def _map(request, hand: str) -> MapDrawing | None:
    """The holding with every tested plot marked by how the crop in hand would fit it; None where nothing, or too much, is drawn."""
    plots = list(_tested(request).filter(west__isnull=False)[: MOST_ON_MAP + 1])
    if not plots or len(plots) > MOST_ON_MAP:
        return None
    lines, marks, stock = lines_by_plot(plots), [], stock_of(request.place.holding.pk)
    for plot in plots:
        asked = _asked(request, plot, lines[plot.pk], hand, stock)
        found = (
            fit(asked, tables().crops[hand], tables())
            if asked
            else Fit(hand, tables().crops[hand].name, "not known", "a reading needs attention", 0.0)
        )
        address = f"{reverse('planning:try_crop', args=[plot.pk])}?crop={hand}"
        state = "fit-" + found.word.replace(" ", "-")
        marks.append(
            PlotOnMap(plot.pk, plot.name, plot.kind, plot.shape, state, f"{plot.name}: {found.name} would fit {found.word}", address)
        )
    return ground_map(frame_of(request, extent_of(request.place.holding)), marks)


def try_crop(request, pk: int):
    """What the readings of a plot would say to another crop, beside what they say now; and planning it."""
    plot = plot_or_404(request, pk)
    crop = tables().crops.get(request.POST.get("crop") or request.GET.get("crop", ""))
    if crop is None:
        raise Http404
    if request.method == "POST":
        return _plan_it(request, plot, crop)
    asked = _asked(request, plot, lines_by_plot([plot])[plot.pk], crop.key)
    context = {"plot": plot, "crop": crop, "traits": _traits(crop.key)}
    if asked is not None:
        found = fit(asked, crop, tables())
        now, then = make_plan(asked, tables()), make_plan(_with_crop(asked, crop), tables())
        reader = reader_for(request.place, plot)
        planned = plot.planting is not None
        context |= {
            "fit": found,
            "now": asked.crop if planned else None,
            "rows": _beside(now if planned else None, then),
            "jobs": [job for job in words.jobs(then, timezone.localdate(), reader, tables()) if not job.later],
            "cost": f"{reader.currency}{then.cost:.2f}" if then.cost else "",
            "warnings": _follows(plot, crop.key),
        }
    return render(request, "planning/_tried.html" if request.htmx else "planning/tried.html", context)


def _traits(key: str) -> list[str]:
    """What is known of a crop beside its ranges, in a few words."""
    row = tables().crops[key]
    salt = tables().salinity.tolerance.get(key)
    told = [
        {"leave alone": "best left alone", "light": "a light feeder", "medium": "a medium feeder", "hungry": "a hungry feeder"}[
            row.feeding
        ],
        row.lime,
    ]
    told += [f"tolerates salt up to {salt.threshold_ds_per_m:g} dS/m"] if salt else []
    return told + ([f"first to need {', '.join(row.sensitive_to)}"] if row.sensitive_to else [])


def _with_crop(asked: Request, crop) -> Request:
    return replace(asked, crop=crop, companion=None, planting=None, yield_goal_t_per_ha=None, target_ph=None, response=None)


def _beside(now: Plan | None, then: Plan) -> list[dict]:
    """A row a finding: the word for the crop of now and for the crop tried; what changes comes first."""
    before = {finding.analyte: finding for finding in now.findings} if now else {}
    rows = []
    for finding in then.findings:
        old = before.get(finding.analyte)
        word = words.CLASS_WORDS[finding.class_]
        was = words.CLASS_WORDS[old.class_] if old else ""
        rows.append(
            {
                "name": finding.name,
                "was": was,
                "word": word,
                "why": finding.why,
                "changes": bool(old) and was != word,
                "class_": finding.class_,
            }
        )
    return sorted(rows, key=lambda row: not row["changes"])


def _follows(plot: Plot, crop: str) -> list[str]:
    """Warnings that the crop would follow its own kind too soon."""
    stands = [Stand(item.crop, item.planted_on, item.ended_on) for item in plot.plantings.all() if item.planted_on]
    warnings = poor_followers([*stands, Stand(crop, timezone.localdate(), None)], tables())
    return [warning.text for warning in warnings if warning.crop == crop]


def _plan_it(request, plot: Plot, crop):
    """The crop becomes the plot's plan: in place of one that is not planted yet, else as a new one."""
    planting = plot.planting
    waits = planting is not None and (planting.planted_on is None or planting.planted_on > timezone.localdate())
    made = planting if planting is not None and waits else Planting(plot=plot)
    with undoable(request, f"{crop.name[0].upper()}{crop.name[1:]} is planned for {plot.name}", *([made] if waits else [])) as touched:
        made.choose_crop(crop.key)
        made.companion = ""
        made.yield_goal_t_per_ha = made.target_ph = made.response = None
        made.save()
        touched[:] = [made]
    return redirect("planning:bench", plot.pk)
