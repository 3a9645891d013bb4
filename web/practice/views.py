"""Practice: what is due, an exercise, and what is said of the answer."""

import secrets

from django.http import Http404
from django.shortcuts import render
from django.utils import timezone

from agronomy.practice.exercise import Exercise, is_answer, mark
from agronomy.practice.kinds import KINDS, deal
from agronomy.practice.spacing import LEVELS, due_on, next_box, next_level
from web.core import tables
from web.practice.models import PracticeBox
from web.query_params import key_of

MOST_SEED, KEPT = 1_000_000, 20


def practice(request):
    """The kinds, those that are due first."""
    today = timezone.localdate()
    boxes = {box.kind: box for box in PracticeBox.objects.filter(user=request.user)}
    rows = [
        {
            "kind": key,
            "name": kind.name,
            "says": kind.says,
            "due": key not in boxes or boxes[key].due_on <= today,
            "box": boxes.get(key),
            "full": boxes[key].recent.count(2) if key in boxes else 0,
        }
        for key, kind in KINDS.items()
    ]
    rows.sort(key=lambda row: not row["due"])
    return render(request, "practice/practice.html", {"rows": rows})


def exercise(request, kind: str):
    """One exercise; the seed and level stand in the address, so that it can be looked at again."""
    if kind not in KINDS:
        raise Http404
    box = PracticeBox.objects.filter(user=request.user, kind=kind).first()
    query = request.POST if request.method == "POST" else request.GET
    seed = key_of(query.get("seed", ""))
    seed = secrets.randbelow(MOST_SEED) if seed is None or seed >= MOST_SEED else seed
    level = key_of(query.get("level", "")) or (box.level if box else LEVELS[0])
    dealt = deal(kind, seed, level if level in LEVELS else LEVELS[0], tables(), us=request.place.units == "us")
    answer = query.get("answer", "").strip()[:40] if request.method == "POST" else ""
    context = {"exercise": dealt, "kind": KINDS[kind], "answer": answer}
    if request.method == "POST":
        if not is_answer(dealt, answer):
            context["error"] = "Give a number." if dealt.number is not None else "Choose one."
            return render(request, "practice/exercise.html", context, status=422)
        marked = mark(dealt, answer)
        _keep(request.user, box, dealt, marked.points)
        context |= {"marked": marked, "right": right_answer(dealt)}
    return render(request, "practice/exercise.html", context)


def right_answer(of: Exercise) -> str:
    """The answer in words."""
    return f"{of.number:.4g} {of.unit}" if of.number is not None else dict(of.options)[of.right]


def _keep(user, box: PracticeBox | None, of: Exercise, points: int) -> None:
    """Moves the learner's box; an exercise that was marked before is not marked again."""
    today = timezone.localdate()
    box = box or PracticeBox(user=user, kind=of.kind, level=of.level, due_on=today, recent=[], answered=[])
    name = f"{of.seed}-{of.level}"
    if name in box.answered:
        return
    box.answered = [*box.answered, name][-KEPT:]
    box.recent = [*box.recent, points][-KEPT:]
    box.box = next_box(box.box, points)
    box.level, box.due_on = next_level(box.level, box.recent), due_on(box.box, today)
    box.save()
