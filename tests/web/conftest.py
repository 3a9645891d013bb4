"""Thornmere with one acid border, its owner signed in, and a stranger's holding beside it."""

import pytest

from tests.helpers import holdings
from tests.helpers.addresses import one_of_everything


@pytest.fixture
def thornmere(db):
    return holdings.holding("Thornmere")


@pytest.fixture
def border(thornmere):
    made = holdings.plot(thornmere)
    holdings.slip(made)
    return made


@pytest.fixture
def grower(client, thornmere):
    client.force_login(holdings.owner(thornmere))
    return client


@pytest.fixture
def stranger(db):
    return holdings.owner(holdings.holding("Quillon Bend", hemisphere="south"))


@pytest.fixture
def objects(grower, border):
    return one_of_everything(grower, border)
