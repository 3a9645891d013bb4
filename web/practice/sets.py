"""Sets that a teacher gives by a code: the same exercises for everybody, and who has done them."""

import hashlib
import secrets

from django import forms
from django.shortcuts import get_object_or_404, redirect, render

from agronomy.practice.exercise import is_answer, mark
from agronomy.practice.kinds import KINDS, deal
from agronomy.practice.spacing import LEVELS
from web.core import tables
from web.practice.models import PracticeSet, SetProgress
from web.practice.views import MOST_SEED, right_answer
from web.query_params import key_of

LETTERS = "abcdefghjkmnpqrstuvwxyz23456789"  # none that is taken for another
CODE_LENGTH = 8


class SetForm(forms.ModelForm):
    """What the set is called, and what is in it."""

    kinds = forms.MultipleChoiceField(
        label="Exercises", choices=[(key, kind.name) for key, kind in KINDS.items()], widget=forms.CheckboxSelectMultiple
    )
    level = forms.TypedChoiceField(label="Level", coerce=int, choices=[(level, str(level)) for level in LEVELS])
    count = forms.IntegerField(label="How many", min_value=1, max_value=40, initial=10)

    class Meta:
        model = PracticeSet
        fields = ("name", "kinds", "level", "count")


class CodeForm(forms.Form):
    """The code that a teacher gave."""

    code = forms.SlugField(label="Code from your teacher", max_length=12)


def sets(request):
    """One's own sets with who has done them; a form for a new one, and one for a code."""
    asks_code = "code" in request.GET
    code = CodeForm(request.GET if asks_code else None)
    if asks_code and code.is_valid():
        if PracticeSet.objects.filter(code=code.cleaned_data["code"].lower()).exists():
            return redirect("practice:set", code.cleaned_data["code"].lower())
        code.add_error("code", "No set has this code. Ask your teacher for it once more.")
    form = SetForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        form.instance.by = request.user
        form.instance.code = "".join(secrets.choice(LETTERS) for _ in range(CODE_LENGTH))
        form.save()
        return redirect("practice:sets")
    mine = PracticeSet.objects.filter(by=request.user).prefetch_related("progress__user")
    context = {"form": form, "code": code, "mine": mine}
    return render(request, "practice/sets.html", context, status=422 if form.errors or code.errors else 200)


def practice_set(request, code: str):
    """The next exercise of a set that one has not answered yet, or that all are done."""
    found = get_object_or_404(PracticeSet, code=code)
    progress = SetProgress.objects.filter(of=found, user=request.user).first() or SetProgress(of=found, user=request.user)
    open_ = [number for number in range(found.count) if number not in progress.done]
    context = {"set": found, "done": found.count - len(open_)}
    asked = key_of(request.POST.get("number", ""))
    number = asked if asked is not None and asked < found.count else open_[0] if open_ else None
    if number is None:
        return render(request, "practice/set_done.html", context)
    kind = found.kinds[number % len(found.kinds)]
    seed = int(hashlib.sha256(f"{found.code}-{number}".encode()).hexdigest(), 16) % MOST_SEED
    dealt = deal(kind, seed, found.level, tables(), us=request.place.units == "us")
    context |= {"exercise": dealt, "kind": KINDS[kind], "number": number}
    if request.method == "POST":
        answer = request.POST.get("answer", "").strip()[:40]
        if not is_answer(dealt, answer):
            return render(request, "practice/exercise.html", context | {"error": "Give an answer first."}, status=422)
        if number not in progress.done:
            progress.done = sorted([*progress.done, number])
            progress.save()
        context |= {"marked": mark(dealt, answer), "right": right_answer(dealt), "answer": answer}
    return render(request, "practice/exercise.html", context)
