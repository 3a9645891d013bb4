"""Makes samples for a round: how many bags a plot wants, how deep, how many cores, and the walk."""

from agronomy.sampling.codes import MOST, code
from agronomy.sampling.path import walk
from agronomy.sampling.plan import Slice, cores_row, cores_wanted, slices
from web.core import tables
from web.ground.models import Plot
from web.ground.selectors import spots_near
from web.sampling.models import Sample, SamplingRound

STRIDE = 2311  # shares no factor with MOST, so that every ID is reached


def make_samples(of: SamplingRound, plot: Plot, *, variability: str, pair: bool, nitrate: bool) -> list[Sample]:
    """The samples of one plot, stored: each layer, and a good and a bad place apart where a pair is wanted."""
    planting = plot.planting
    crop = tables().crops.get(planting.crop) if planting else None
    layers = slices(
        plot.kind, dug=plot.dug, depth_cm=plot.depth_cm, is_grass=bool(crop and crop.is_grass), nitrate=nitrate, tables=tables()
    )
    roles = (Sample.Role.GOOD, Sample.Role.BAD) if pair else (Sample.Role.WHOLE,)
    return [_make(of, plot, layer, str(role), variability) for layer in layers for role in roles]


def _make(of: SamplingRound, plot: Plot, layer: Slice, role: str, variability: str) -> Sample:
    cores = cores_wanted(plot.kind, plot.area_m2, variability, tables()).count
    if role != Sample.Role.WHOLE:
        cores = max(5, cores // 2)  # a place of a few steps, not the whole plot
    sample = Sample(
        round=of,
        plot=plot,
        role=role,
        variability=variability,
        top_cm=layer.top_cm,
        bottom_cm=layer.bottom_cm,
        cores_wanted=cores,
        walk=_walk(plot, cores) if role == Sample.Role.WHOLE else None,
        code=_next_code(of.holding_id),
    )
    sample.save()
    return sample


def _walk(plot: Plot, cores: int) -> dict | None:
    if plot.shape is None:
        return None
    edge = cores_row(plot.kind, tables()).edge_m
    found = walk(plot.shape, cores, edge_m=edge, odd_spots=spots_near(plot))
    return {"line": found.line, "cores": found.cores, "length_m": found.length_m, "edge_m": found.edge_m}


def _next_code(holding_id: int) -> str:
    """The next free ID of a holding. Neighbours in a round look unlike each other, so that two bags are not confused."""
    taken = set(Sample.objects.filter(round__holding=holding_id).values_list("code", flat=True))
    number = len(taken)
    while (found := code(number * STRIDE % MOST)) in taken:
        number += 1
    return found
