"""The attack in small: `make attack` runs it whole."""

import importlib
import pkgutil
import subprocess
import sys

import pytest

import benchmarks
from attack.core import attack
from attack.place import ROOT


def test_races_are_won_by_one():
    done = subprocess.run(
        [sys.executable, "-m", "attack.races", "--people", "5"], cwd=ROOT, capture_output=True, text=True, timeout=300, check=False
    )
    assert done.returncode == 0, done.stdout + done.stderr[-2000:]


def test_the_core_refuses_or_plans_whatever_is_asked():
    told = attack(400, seed=11)
    assert (told.untyped, told.slow, told.insane) == ([], [], [])
    assert told.planned > 50


@pytest.mark.parametrize("name", [module.name for module in pkgutil.iter_modules(benchmarks.__path__)])
def test_what_is_measured_can_still_be_measured(name):
    assert importlib.import_module(f"benchmarks.{name}")
