"""Ten years of a made-up plot, a year at a time; the choices stand in the address, so that a step can be taken back."""

from urllib.parse import urlencode

from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse

from agronomy.base import showing
from agronomy.practice.simulator import STORIES, YEARS, Doses, advised, simulate, start_of
from web.core import tables

# What can be put on in a year: names of the core's doses, their label, unit, and the amounts to choose from.
CHOICES = (
    ("lime_t", "Lime flour", "t/ha", (0, 1, 2, 4)),
    ("sulfur_kg", "Sulfur", "kg/ha", (0, 200, 500)),
    ("compost_t", "Compost", "t/ha", (0, 10, 25, 50)),
    ("k2o_kg", "Potash, as K₂O", "kg/ha", (0, 100, 200)),
)


def stories(request):
    rows = [(key, story.name, tables().crops[story.crop].name, story.habit) for key, story in STORIES.items()]
    return render(request, "practice/stories.html", {"rows": rows})


def years(request, story: str):
    """One story: the years so far, and what goes on next."""
    if story not in STORIES:
        raise Http404
    kept = [text for text in request.GET.getlist("y")[:YEARS] if _doses(text) is not None]
    if CHOICES[0][0] in request.GET and len(kept) < YEARS:
        text = ",".join(request.GET.get(name, "0") for name, *_ in CHOICES)
        return redirect(_address(story, [*kept, text] if _doses(text) is not None else kept))
    chosen, start = [doses for text in kept if (doses := _doses(text)) is not None], start_of(story, tables())
    path = advised(start, tables()) if chosen else {}
    sign = request.place.holding.currency if request.place.holding else "€"
    rows = [
        {
            "year": end.year,
            "put": ", ".join(_said(doses)) or "nothing",
            "tests": [(key, _shown(key, value), _beside(path, key, end.year)) for key, value in end.tests.items()],
            "says": end.says,
            "spent": f"{sign}{end.spent:,.0f}",
        }
        for doses, end in zip(chosen, simulate(start, chosen, tables()), strict=True)
    ]
    last = kept[-1].split(",") if kept else ["0"] * len(CHOICES)
    context = {
        "story": STORIES[story],
        "crop": start.crop.name,
        "before": [(key, f"{value:g}") for key, value in STORIES[story].tests.items()],
        "rows": rows,
        "choices": [
            (name, label, [(amount, f"{amount} {unit}" if amount else "none", str(amount) == before) for amount in amounts])
            for (name, label, unit, amounts), before in zip(CHOICES, last, strict=True)
        ],
        "kept": kept,
        "is_over": len(kept) >= YEARS,
        "back": _address(story, kept[:-1]),
    }
    return render(request, "practice/years.html", context)


def _address(story: str, kept: list[str]) -> str:
    asked = urlencode([("y", text) for text in kept])
    return reverse("practice:years", args=[story]) + (f"?{asked}" if asked else "")


def _doses(text: str) -> Doses | None:
    """The doses of a year as "2,0,0,0", each one that can be chosen; None for anything else."""
    words = text.split(",")
    if len(words) != len(CHOICES):
        return None
    found = {}
    for word, (name, _, _, amounts) in zip(words, CHOICES, strict=True):
        if word not in [str(amount) for amount in amounts]:
            return None
        found[name] = float(word)
    return Doses(**found)


def _said(doses: Doses) -> list[str]:
    return [f"{label.split(',')[0].lower()} {getattr(doses, name):g} {unit}" for name, label, unit, _ in CHOICES if getattr(doses, name)]


def _shown(key: str, value: float) -> str:
    return f"{value:.1f}" if key == "pH" else showing.number(value, 2)


def _beside(path: dict[str, list[float]], key: str, year: int) -> str:
    told = path.get(key) or []
    return _shown(key, told[year - 1]) if year <= len(told) else ""
