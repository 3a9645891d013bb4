"""What a plot may cost: what pays most goes on first, and the rest is left out and told."""

from agronomy.base.said import say
from agronomy.dose.application import Application
from agronomy.model.answers import Unmet

PAYS_FIRST = ("Na", "CaCO3", "S_acid", "N", "P", "K", "S", "Mg")  # trace elements last, as they were found


def within_budget(applications: list[Application], budget: float | None) -> tuple[list[Application], list[Unmet]]:
    """The applications that the money reaches for, whole needs at a time, and what is left out [kg of element/ha].

    Money in the owner's own. Source: own-experience.

    >>> within_budget([], 40.0)
    ([], [])
    """
    if budget is None or sum(item.cost for item in applications if not item.later) <= budget:
        return applications, []
    wanted = dict.fromkeys(item.what for item in applications)
    order = sorted(wanted, key=lambda what: PAYS_FIRST.index(what) if what in PAYS_FIRST else len(PAYS_FIRST))
    left, kept, out = budget, set(), []
    for what in order:
        parts = [item for item in applications if item.what == what]
        cost = sum(item.cost for item in parts if not item.later)
        if cost <= left:
            left -= cost
            kept.add(what)
            continue
        why = say(
            "It would cost {cost:.2f}, and of the {budget:g} that may be spent {left:.2f} are left.", cost=cost, budget=budget, left=left
        )
        out.append(Unmet(what, sum(item.supplies.get(what, 0.0) for item in parts if not item.later), why))
    return [item for item in applications if item.what in kept], out
