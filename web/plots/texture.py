"""What kind of soil it is: by feel, by percentages on the triangle, and whether it fizzes."""

from django.shortcuts import redirect, render

from agronomy.base.errors import RuleError
from agronomy.base.numbers import parse_number
from agronomy.ground.feel import feel, free_lime_from_fizz, texture_by_shares
from web.changes.undo import undoable
from web.core import error_text, tables
from web.drawing.triangle import triangle
from web.ground.selectors import plot_or_404
from web.query_params import key_of


def texture(request, pk: int):
    plot = plot_or_404(request, pk)
    errors: list[str] = []
    if request.method == "POST" and (kept := _keep(request, plot, errors)):
        return kept
    answers = [int(answer) for answer in request.GET.get("felt", "").split("-") if key_of(answer) is not None]
    try:
        felt = feel(answers, tables())
    except RuleError:
        answers, felt = [], feel([], tables())
    trail = "-".join(str(answer) for answer in answers)
    return render(
        request,
        "ground/texture.html",
        {
            "plot": plot,
            "felt": felt,
            "trail": f"{trail}-" if trail else "",
            "back": "-".join(str(answer) for answer in answers[:-1]),
            "errors": errors,
            "triangle": triangle(
                {row.code: name for name, row in tables().textures.items()},
                sand=plot.sand_pct,
                clay=plot.clay_pct,
                chosen=felt.texture or plot.texture,
            ),
            "fizzes": tables().ground.fizz.values(),
            "typed": request.POST,
            "known": tables().ground.feel.right_within_one_class,
        },
        status=422 if errors else 200,
    )


def _keep(request, plot, errors: list[str]):
    """Keeps what was found by one of the three ways; None where it was not sound."""
    try:
        said = _put(plot, request.POST)
    except RuleError as error:
        errors.append(error_text(error))
        return None
    with undoable(request, said, plot):
        plot.save()
    return redirect("ground:texture", plot.pk)


def _put(plot, data) -> str:
    if "fizz" in data:
        has_lime, low, high = free_lime_from_fizz(data["fizz"], tables())
        plot.free_lime = "yes" if has_lime else "no"
        return f"{plot.name}: {f'free lime, {low:g} to {high:g} % carbonate' if has_lime else 'no free lime'}"
    if "sand" in data:
        sand, silt, clay = (parse_number(data.get(name, ""), name) for name in ("sand", "silt", "clay"))
        plot.texture = texture_by_shares(sand, silt, clay, tables())
        plot.sand_pct, plot.clay_pct = sand, clay
        return f"{plot.name} is {plot.texture} by its percentages"
    found = feel([int(answer) for answer in data.get("felt", "").split("-") if key_of(answer) is not None], tables())
    if found.texture is None:
        raise RuleError("felt", None, "the test is not at its end", "answer every question")
    plot.texture, plot.sand_pct, plot.clay_pct = found.texture, None, None
    return f"{plot.name} is {plot.texture} by feel"
