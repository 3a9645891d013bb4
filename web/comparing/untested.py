"""Ground that nobody tested: what one sees is ticked, and what can be supposed of it is said with what a test would cost."""

from django.shortcuts import redirect, render
from django.utils import timezone

from agronomy.base import showing
from agronomy.base.errors import RequestError
from agronomy.intake.request import read_request
from agronomy.whatif.no_test import WithoutTest, questions, without_test
from web.changes.undo import undoable
from web.core import error_text, tables
from web.ground.models import Plot
from web.ground.selectors import plot_or_404
from web.planning import words
from web.planning.requests import request_document
from web.planning.service import crop_of, reader_for
from web.planning.words import Reader
from web.sentences import tell

ASK = {
    "colour": "What colour is the ground?",
    "history": "What was done to it?",
    "feel": "How does it feel, wet?",
    "growth": "What grows there, and how?",
}
LEANS = {
    "not known": "not known",
    "acid": "probably acid",
    "alkaline": "probably limy",
    "enough": "probably enough",
    "short": "probably short",
    "plenty": "probably plenty",
    "too much": "probably too much",
}


def untested(request, pk: int):
    plot = plot_or_404(request, pk)
    asked = questions(tables())
    known = {answer for answers in asked.values() for answer in answers}
    if request.method == "POST":
        ticked = [answer for answer in request.POST.getlist("sign") if answer in known]
        with undoable(request, f"What you see at {plot.name} was added", plot):
            plot.signs = ticked
            plot.save()
        return redirect("planning:untested", pk)
    context = {
        "plot": plot,
        "crop": crop_of(plot),
        "questions": [(ASK[name], [(answer, answer in plot.signs) for answer in answers]) for name, answers in asked.items()],
    }
    return render(request, "planning/untested.html", context | _told(request, plot, context["crop"]))


def _told(request, plot: Plot, crop) -> dict:
    if crop is None:
        return {}
    document = request_document(plot, plot.planting, [], today=timezone.localdate(), units=request.place.units)
    try:
        told = without_test(read_request(document, tables()), set(plot.signs), tables())
    except RequestError as error:
        return {"errors": [error_text(item) for item in error.errors]}
    reader = reader_for(request.place, plot)
    return {
        "guesses": [
            {"name": guess.name, "leans": LEANS[guess.leans], "why": guess.why, "known": guess.leans != "not known"}
            for guess in told.guesses
        ],
        "rates": _rates(told, reader),
        "price": f"{reader.currency}{told.test_price:.0f}",
        "settles": tell(told.test_settles, reader.units),
        "lime": _lime(told, reader),
    }


def _rates(told: WithoutTest, reader: Reader) -> list[dict]:
    rows = []
    for rate in told.rates:
        label, amount = words.nutrient_in(rate.what, rate.kg_per_ha, reader.nutrient_form)
        rows.append(
            {
                "name": rate.name,
                "rate": f"{reader.nutrient(amount)} {label}" if amount else "none",
                "why": rate.why,
            }
        )
    return rows


def _lime(told: WithoutTest, reader: Reader) -> str:
    """The lime that could be wanted, for the plot; empty where none could."""
    low, high = (showing.mass(kg, reader.units, 2) if kg else "none" for kg in told.lime_kg)
    return "" if high == "none" else f"{low} to {high}"
