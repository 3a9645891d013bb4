"""From a laboratory's file to slips: which sample is which plot, and reading them in step by step."""

import gc
import hashlib
import json
import threading
from collections import OrderedDict
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import date

from django.db import transaction
from django.urls import reverse

from agronomy.labfile import Line, Remark, Understanding, lines_of, understand
from agronomy.labfile.matching import Match, match_name, plain_name
from agronomy.sampling.codes import code_in
from web.changes.models import Change
from web.core import insert_many, tables
from web.ground.models import Plot, WaterSource
from web.people.holding_lock import hold
from web.query_params import key_of
from web.readings.models import LabFile, LabHabit, LabReport, LabResult
from web.sampling.models import Sample

SLIPS_IN_A_STEP, LINES_IN_A_STEP = 1500, 10_000
VERSION = 1  # of what is understood: one more where the reader changes, so that nothing old is shown
SlipKey = tuple[str, date | None, float | None, float | None]  # sample, day, top and bottom of the layer
HOW_OF = {"soil": "lab", "water": "lab", "leaf": "tissue", "material": "lab"}


@dataclass(slots=True)
class Parsed:
    """A file as it is understood now: its lines by sample, day and layer, its remarks, and the names of its samples in order."""

    understood: Understanding
    groups: dict[SlipKey, list[Line]]
    remarks: list[Remark]
    doubtful: list[Line] = field(default_factory=list)

    @property
    def samples(self) -> list[str]:
        return list(dict.fromkeys(name for name, *_ in self.groups))

    @property
    def count(self) -> int:
        return sum(len(lines) for lines in self.groups.values())


@contextmanager
def _unwatched() -> Iterator[None]:
    """Keeps Python's cycle collector off while thousands of lines are made, which it would walk over and over for nothing."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


# Reading a large file takes a second or two: what was understood is kept for the next request, by everything it depends on.
_KEPT: OrderedDict[str, Parsed] = OrderedDict()
_MOST_KEPT = 3
_KEEPING = threading.Lock()


def content_key(file: LabFile) -> str:
    """What the understanding of a file depends on, as one word."""
    told = json.dumps([file.sha256, file.medium, file.answers, file.overrides, VERSION], sort_keys=True)
    return hashlib.sha256(told.encode()).hexdigest()


def forget() -> None:
    """Lets go of the files that were read lately."""
    with _KEEPING:
        _KEPT.clear()


def parsed(file: LabFile) -> Parsed:
    """The file as its answers and corrections make it. Raises RuleError for a file that can't be read."""
    key = content_key(file)
    with _KEEPING:
        if (known := _KEPT.get(key)) is not None:
            _KEPT.move_to_end(key)
            return known
    with _unwatched():
        answers = file.answers | {"medium": file.medium}
        made = _grouped(understand(bytes(file.content), file.name, tables(), answers=answers), file.overrides)
    with _KEEPING:  # two threads may have read the same file at once: either result serves
        _KEPT[key] = made
        _KEPT.move_to_end(key)
        while len(_KEPT) > _MOST_KEPT:
            _KEPT.popitem(last=False)
    return made


def _grouped(understood: Understanding, overrides: dict) -> Parsed:
    made = Parsed(understood, {}, [])
    for item in lines_of(understood, tables(), overrides=overrides):
        if isinstance(item, Remark):
            made.remarks.append(item)
            continue
        made.groups.setdefault((item.sample, item.taken, item.top_cm, item.bottom_cm), []).append(item)
        if item.doubt:
            made.doubtful.append(item)
    return made


def match_samples(file: LabFile, names: list[str]) -> dict[str, Match]:
    """What each sample's name in the file stands for, and why: an ID in it, else a plot (or water) whose name agrees."""
    if file.medium == LabReport.Medium.MATERIAL:
        return {name: Match("material", "a material of this name", True) for name in names if name}
    holding = file.holding
    if file.medium == LabReport.Medium.WATER:
        known = {plain_name(water.name): f"water:{water.pk}" for water in WaterSource.objects.filter(holding=holding)}
        codes: dict[str, int] = {}
    else:
        known = {plain_name(name): f"plot:{pk}" for pk, name in Plot.objects.filter(holding=holding).values_list("pk", "name")}
        codes = dict(Sample.objects.filter(round__holding=holding).values_list("code", "pk"))
    found = {}
    for name in names:
        code = code_in(name)
        match = Match(f"sample:{codes[code]}", "the code of its bag", True) if code in codes else match_name(name, known)
        if match is not None:
            found[name] = match
    return found


@dataclass(frozen=True, slots=True)
class _Target:
    """What a slip is about, as fields of the LabReport."""

    fields: dict
    sample: Sample | None = None


def _targets(file: LabFile, names: list[str]) -> dict[str, _Target]:
    """The chosen plots, waters and samples, each looked up once and only on this holding."""
    wanted = {name: file.matching.get(name, "") for name in names}
    by_kind: dict[str, set[int]] = {"plot": set(), "sample": set(), "water": set()}
    for target in wanted.values():
        kind, _, pk = target.partition(":")
        key = key_of(pk)
        if kind in by_kind and key is not None:
            by_kind[kind].add(key)
    plots = Plot.objects.filter(holding=file.holding).in_bulk(by_kind["plot"])
    waters = WaterSource.objects.filter(holding=file.holding).in_bulk(by_kind["water"])
    samples = Sample.objects.filter(round__holding=file.holding).in_bulk(by_kind["sample"])
    found = {}
    for name, target in wanted.items():
        kind, _, pk = target.partition(":")
        if kind == "plot" and int(pk) in plots:
            found[name] = _Target({"plot": plots[int(pk)]})
        elif kind == "water" and int(pk) in waters:
            found[name] = _Target({"water": waters[int(pk)]})
        elif kind == "sample" and int(pk) in samples:
            sample = samples[int(pk)]
            found[name] = _Target(
                {"plot_id": sample.plot_id, "sample": sample, "top_cm": sample.top_cm, "bottom_cm": sample.bottom_cm}, sample
            )
        elif kind == "material" and name:
            found[name] = _Target({"material": name[:120]})
    return found


def groups_to_read(file: LabFile, keys: Iterable[SlipKey]) -> list[SlipKey]:
    """The slips that the file becomes, in its order: samples that are matched."""
    keys = list(keys)
    targets = _targets(file, list(dict.fromkeys(name for name, *_ in keys)))
    return [key for key in keys if key[0] in targets]


def read_step(file: LabFile) -> None:
    """Reads in the next part of a file; whole slips only. Sets the state to IN after the last.

    The file is understood before the holding is locked: that may take a while, and others go on writing meanwhile.
    """
    made = parsed(file)
    with transaction.atomic():
        hold(file.holding_id)
        now = LabFile.objects.filter(pk=file.pk).values_list("state", "done").first()
        file.state, file.done = now or (LabFile.State.UNDONE, 0)  # thrown away meanwhile
        if file.state == LabFile.State.READING:
            _read_part(file, made)


def _read_part(file: LabFile, made: Parsed) -> None:
    keys = groups_to_read(file, made.groups)
    part = _next_part(keys[file.done : file.done + SLIPS_IN_A_STEP], made)
    targets = _targets(file, list(dict.fromkeys(name for name, *_ in part)))
    slips = [_slip(file, key, targets[key[0]]) for key in part]
    LabReport.objects.bulk_create(slips, batch_size=500)
    rows = (_row(slip.pk, place, line) for slip, key in zip(slips, part, strict=True) for place, line in enumerate(made.groups[key]))
    insert_many(LabResult, _COLUMNS, rows)
    _arrived(slips, [targets[key[0]].sample for key in part])
    file.done += len(part)
    file.total = len(keys)
    if file.done >= len(keys):
        file.state = LabFile.State.IN
        file.remarks = [[remark.row, remark.text] for remark in made.remarks[:500]]
        if file.lab:
            LabHabit.objects.update_or_create(holding=file.holding, lab=file.lab, defaults={"answers": file.answers})
        label = f"{file.name}: {file.done} report{'s' if file.done != 1 else ''} read in"
        address = reverse("readings:take_out_file", args=[file.pk])
        Change.objects.create(holding=file.holding, user=file.uploaded_by, label=label[:200], undo_address=address)
    file.save(update_fields=["state", "done", "total", "remarks"])


def _next_part(keys: list[SlipKey], made: Parsed) -> list[SlipKey]:
    """As many slips as hold the lock for a moment only; one at least."""
    part: list[SlipKey] = []
    lines = 0
    for key in keys:
        lines += len(made.groups[key])
        if part and lines > LINES_IN_A_STEP:
            break
        part.append(key)
    return part


def _slip(file: LabFile, key: SlipKey, target: _Target) -> LabReport:
    name, taken, top_cm, bottom_cm = key
    day = taken or (target.sample.taken_on if target.sample else None) or file.sampled_on
    return LabReport(
        holding=file.holding,
        medium=file.medium,
        lab=file.lab,
        how=HOW_OF[file.medium],
        taken_on=day,
        source_file=file,
        note=f"“{name}” in {file.name}"[:300],
        **({"top_cm": top_cm, "bottom_cm": bottom_cm} if bottom_cm is not None else {}) | target.fields,
    )


_COLUMNS = ("slip_id", "place", "kind", "analyte", "heading", "typed", "unit", "method", "rating", "doubt")


def _row(slip_pk: int, place: int, line: Line) -> tuple:
    """A line's values in the order of _COLUMNS, cut to what the columns hold."""
    kind = str(LabResult.Kind.READING if line.is_reading else LabResult.Kind.KEPT)
    typed = line.typed if line.is_reading else line.as_written
    return (
        slip_pk,
        min(place, 32_000),
        kind,
        (line.analyte or "")[:24],
        line.heading[:120],
        (typed or "")[:200],
        line.unit[:24],
        line.method[:40],
        line.rating[:40],
        (line.doubt or "")[:300],
    )


def _arrived(slips: list[LabReport], samples: list[Sample | None]) -> None:
    """Samples whose result has come are no longer waited for."""
    come = {}
    for slip, sample in zip(slips, samples, strict=True):
        if sample and sample.arrived_on is None:
            sample.taken_on = sample.taken_on or slip.taken_on
            sample.arrived_on = slip.source_file.uploaded_at.date()
            come[sample.pk] = sample
    Sample.objects.bulk_update(come.values(), ["taken_on", "arrived_on"])


@transaction.atomic
def take_out(file: LabFile) -> int:
    """Takes everything that the file brought out again; the file itself stays. Returns how many slips went."""
    slips = LabReport.objects.filter(source_file=file)
    Sample.objects.filter(slips__in=slips).update(arrived_on=None)
    count = slips.count()
    # in bulk, past the signals of single rows: sixty thousand lines would take minutes one by one
    LabResult.objects.filter(slip__in=slips)._raw_delete(slips.db)
    slips._raw_delete(slips.db)
    file.state, file.done = LabFile.State.UNDONE, 0
    file.save(update_fields=["state", "done"])
    return count
