"""Practice on the web: an answer is marked once, explained, and comes again by its box."""

import re
from datetime import timedelta

from django.test import Client
from django.urls import reverse
from django.utils import timezone

from agronomy.practice.kinds import deal
from tests.helpers.holdings import owner
from tests.helpers.pages import text_of
from web.core import tables
from web.people.models import User
from web.practice.models import PracticeBox, PracticeSet, SetProgress


def answer(grower, kind: str, seed: int, wanted: str):
    return grower.post(reverse("practice:exercise", args=[kind]), {"seed": seed, "level": 1, "answer": wanted})


def test_an_answer_is_marked_once_explained_and_comes_again(grower, border):
    dealt = deal("dose", 5, 1, tables())
    page = text_of(answer(grower, "dose", 5, f"{dealt.number:.6g}"))
    assert "Right." in page
    assert dealt.why[0].split(" = ")[0] in page
    answer(grower, "dose", 5, "1")  # looked at again: nothing more is marked
    box = PracticeBox.objects.get(user=owner(border.holding))
    assert (box.kind, box.box, box.recent) == ("dose", 1, [2])
    assert box.due_on == timezone.localdate() + timedelta(days=3)
    for seed in range(10, 14):
        answer(grower, "dose", seed, f"{deal('dose', seed, 1, tables()).number:.6g}")
    box.refresh_from_db()
    assert (box.box, box.level) == (5, 3)
    assert "level 3, 5 of the last" in text_of(grower.get(reverse("practice:practice")))


def test_what_cannot_be_marked_is_asked_again(grower, border):
    assert answer(grower, "dose", 5, "many").status_code == 422
    assert answer(grower, "claim", 5, "").status_code == 422
    assert not PracticeBox.objects.exists()
    assert grower.get(reverse("practice:exercise", args=["juggling"])).status_code == 404
    assert grower.get(reverse("practice:exercise", args=["dose"]), {"seed": "9" * 400, "level": "x"}).status_code == 200


def test_ten_years_are_lived_one_at_a_time_and_taken_back(grower, border):
    address = reverse("practice:years", args=["overlime"])
    for _ in range(5):
        answer = grower.get(f"{address}{chr(38) if chr(63) in address else chr(63)}lime_t=2")
        address = answer.url
    page = text_of(grower.get(address))
    assert page.count("lime flour 2 t/ha") == 5
    assert "too alkaline" in page
    assert "many years to undo it" in page
    back = page.split("One year back")[0].rsplit('href="', 1)[1].split('"')[0].replace("&amp;", "&")
    assert text_of(grower.get(back)).count("lime flour 2 t/ha") == 4
    assert "too alkaline" not in text_of(grower.get(reverse("practice:years", args=["overlime"]), {"y": "0,0,0,0"}))
    assert grower.get(reverse("practice:years", args=["overlime"]), {"y": ["9,9", "x", "0,0,0,9"]}).status_code == 200


def test_a_set_is_the_same_for_all_who_have_its_code_and_its_maker_sees_who_has_done_it(grower, border):
    grower.post(reverse("practice:sets"), {"name": "Doses", "kinds": ["dose", "claim"], "level": 1, "count": 2})
    made = PracticeSet.objects.get()
    learner = User.objects.create_user("learner@farm.example", name="Nan Osgood")
    client = Client()
    client.force_login(learner)
    assert client.get(reverse("practice:sets"), {"code": "nothing"}).status_code == 422
    assert client.get(reverse("practice:sets"), {"code": made.code.upper()}).url == reverse("practice:set", args=[made.code])
    address = reverse("practice:set", args=[made.code])
    asked = [re.search("<dl>.*</dl>", text_of(who.get(address)))[0] for who in (client, grower)]
    assert asked[0] == asked[1]
    assert client.post(address, {"number": 0, "answer": "many"}).status_code == 422
    for number, wanted in ((0, "12"), (0, "12"), (1, "weak")):
        assert client.post(address, {"number": number, "answer": wanted}).status_code == 200
    assert SetProgress.objects.get(of=made).done == [0, 1]
    assert "All 2 are done" in text_of(client.get(address))
    assert "Nan Osgood: 2 of 2" in text_of(grower.get(reverse("practice:sets")))
