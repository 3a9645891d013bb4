"""Pages that compare materials."""

from django.test import Client
from django.urls import reverse

from tests.helpers.pages import page, text_of


def test_the_price_of_what_works_unmasks_filler(grower, border):
    told = page(grower, "planning:price_of_work", **{"for": "N"})
    assert "mostly filler" in told
    assert "times the cheapest" in told
    assert grower.get(reverse("planning:price_of_work"), {"for": "gold"}).status_code == 404


def test_what_goes_together_warns_of_gas_and_fire(grower, border):
    told = page(grower, "planning:together", material=["urea", "wood_ash", "sulfur_powder", "potassium_nitrate", "no_such_bag"])
    assert "gas" in told
    assert "fire" in told
    assert "Choose two materials or more" in page(grower, "planning:together")
    grower.post(reverse("planning:adopt", args=[border.pk]))
    assert "dolomitic ground limestone" in page(grower, "planning:together")
    assert "All of these go together" in text_of(Client().get(reverse("planning:together"), {"material": ["gypsum", "epsom_salt"]}))


def test_nitrogen_sources_move_with_how_they_are_spread(grower, border, thornmere):
    dry, rained = (page(grower, "planning:nitrogen_sources", border.pk, worked_in=way) for way in ("never", "one_day"))
    assert dry != rained
    assert "calcium ammonium nitrate" in dry
    thornmere.organic_only = True
    thornmere.save()
    assert "calcium ammonium nitrate" not in page(grower, "planning:nitrogen_sources", border.pk)


def test_bags_by_aim_are_compared_and_one_is_chosen(grower, border):
    told = page(grower, "planning:aims", border.pk)
    for words in ("Least money", "Fewest bags", "Least loss", "Different bags"):
        assert words in told
    assert grower.post(reverse("planning:choose_aim", args=[border.pk]), {"aim": "glory"}).status_code == 404
    grower.post(reverse("planning:choose_aim", args=[border.pk]), {"aim": "fewest"})
    border.refresh_from_db()
    assert border.aim == "fewest"
    assert "for fewest different bags over all needs together" in page(grower, "planning:bench", border.pk)
    grower.post(reverse("planning:choose_aim", args=[border.pk]), {"aim": "rule"})
    border.refresh_from_db()
    assert border.aim == ""


def test_what_is_said_stands_with_its_verdict_and_beside_the_material(grower):
    told = text_of(grower.get(reverse("claims"), {"q": "eggshell blossom"}))
    assert "contradicted" in told
    assert "even water" in told
    assert "Nothing is said here" in text_of(grower.get(reverse("claims"), {"q": "unicorn"}))
    assert "Common claims about it" in text_of(grower.get(reverse("planning:material", args=["epsom_salt"])))
