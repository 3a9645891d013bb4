"""A holding taken out and put back: equal row for row, elsewhere, and nothing of a spoilt archive goes in."""

import hashlib
import io
import json
import threading
import zipfile
from datetime import date
from pathlib import Path

import pytest
from django.apps import apps
from django.conf import settings as django_settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connections
from django.db.models import JSONField
from django.urls import reverse
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.helpers.holdings import holding, plot, slip
from tests.helpers.pages import text_of
from web.overview.archive import work
from web.overview.archive.contents import NOT_KEPT, PARTS, TABLES
from web.overview.archive.putting_back import ArchiveRefused, put_back
from web.overview.archive.taking_out import take_out
from web.overview.closing import close_holding
from web.overview.demo.loading import load
from web.people.models import Holding, Membership
from web.people.moment import one_moment
from web.planning.models import PlanProposal
from web.readings.models import LabReport
from web.records.models import LogEntry, Sighting
from web.shaped import ShapedField
from web.supplies.models import StockLot

TODAY = date(2026, 11, 28)


def taken(of: Holding) -> bytes:
    made = io.BytesIO()
    take_out(of, made)
    return made.getvalue()


def told(archive: bytes) -> dict:
    """An archive's rows and files with places in place of keys, so that two can be laid side by side."""
    with zipfile.ZipFile(io.BytesIO(archive)) as opened:
        names = [name for name in opened.namelist() if name not in ("manifest.json", "README.txt", "people.json")]
        content = {name: opened.read(name) for name in names}
    rows = {table.name: [json.loads(line) for line in content[f"tables/{table.name}.jsonl"].splitlines()] for table in TABLES}
    place = {table.model: {row["id"]: number for number, row in enumerate(rows[table.name])} for table in TABLES}
    kinds = {"plot": "plots", "sample": "samples", "water": "waters"}
    models = {table.name: table.model for table in TABLES}
    found: dict = {"holding": json.loads(content["holding.json"]) | {"name": ""}}
    for table in TABLES:
        for row in rows[table.name]:
            for field in table.fields():
                if field.related_model in place and row.get(field.name) is not None:
                    row[field.name] = place[field.related_model][row[field.name]]
            for name, target in (row.get("matching") or {}).items():
                kind, _, key = target.partition(":")
                if kind in kinds:
                    row["matching"][name] = (kind, place[models[kinds[kind]]][int(key)])
        found[table.name] = [{key: value for key, value in row.items() if key != "id"} for row in rows[table.name]]
    for name in names:
        if name.startswith("files/"):
            kind, key, column = name.removeprefix("files/").split("-")
            found[f"{kind} {place[models[kind]][int(key)]} {column}"] = content[name]
    return found


def moved(of: Holding, archive: bytes) -> Holding:
    """The holding closed, and its archive in a new one with the same people."""
    people = list(of.memberships.values_list("user", "role"))
    close_holding(of)
    new = Holding.objects.create(name="Elsewhere")
    Membership.objects.bulk_create(Membership(holding=new, user_id=user, role=role) for user, role in people)
    put_back(new, io.BytesIO(archive))
    return new


def test_every_model_is_in_the_archive_or_known_to_be_left_out():
    ours = {model._meta.label for model in apps.get_models() if model.__module__.startswith("web.")}
    assert ours == {table.model._meta.label for table in TABLES} | NOT_KEPT


def test_the_demo_goes_out_and_comes_back_row_for_row(client, db):
    load(TODAY)
    for name in ("Thornmere", "Quillon Bend"):
        before = taken(Holding.objects.get(name=name))
        new = moved(Holding.objects.get(name=name), before)
        assert told(taken(new)) == told(before)
        client.force_login(new.memberships.filter(role="owner").first().user)
        for page in ("planning:plans", "jobs:jobs", "readings:slips", "records:log", "ground_page", "today"):
            assert client.get(reverse(page)).status_code == 200


@settings(max_examples=15, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    names=st.lists(st.text(st.characters(exclude_categories=["C", "Z"]), min_size=1, max_size=40), min_size=1, max_size=4, unique=True),
    area=st.floats(0.001, 1e8),
    lines=st.lists(
        st.tuples(st.sampled_from(["pH", "P", "K"]), st.text(st.characters(exclude_categories=["C"]), min_size=1, max_size=20)), max_size=4
    ),
)
def test_any_holding_comes_back_as_it_was(db, names, area, lines):
    made = holding(f"H{Holding.objects.count()} {names[0]}"[:60].replace("@", "a"))
    for name in names:
        slip(plot(made, name, area_m2=area), [(analyte, typed, "", "") for analyte, typed in lines])
    before = taken(made)
    assert told(taken(moved(made, before))) == told(before)


@pytest.fixture
def archive(thornmere, border):
    return taken(thornmere)


def changed(archive: bytes, name: str, act) -> bytes:
    """An archive with one of its files spoilt, and its list of sums as it was unless the file is the list."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(archive)) as old, zipfile.ZipFile(made, "w") as new:
        for entry in old.namelist():
            content = act(old.read(entry)) if entry == name else old.read(entry)
            if content is not None:
                new.writestr(entry, content)
    return made.getvalue()


def resealed(archive: bytes, name: str, old: bytes, new: bytes) -> bytes:
    """An archive with a file changed and its sum made to fit."""
    spoilt = changed(archive, name, lambda content: content.replace(old, new))
    with zipfile.ZipFile(io.BytesIO(spoilt)) as opened:
        manifest = json.loads(opened.read("manifest.json"))
        manifest["files"][name]["sha256"] = hashlib.sha256(opened.read(name)).hexdigest()
    return changed(spoilt, "manifest.json", lambda _: json.dumps(manifest).encode())


def within(archive: bytes, name: str) -> bytes:
    """An archive with the packed bytes of one file spoilt, and all lengths and lists as they were."""
    with zipfile.ZipFile(io.BytesIO(archive)) as opened:
        entry = opened.getinfo(name)
    start = entry.header_offset + 30 + len(entry.filename.encode())
    return archive[:start] + b"\xff" * entry.compress_size + archive[start + entry.compress_size :]


def with_value(archive: bytes, table: str, column: str, value) -> bytes:
    """An archive whose first row of a table holds something else in one column."""

    def act(content: bytes) -> bytes:
        first, *rest = content.splitlines(keepends=True) or [b'{"id": 1}']
        return json.dumps(json.loads(first) | {column: value}).encode() + b"\n" + b"".join(rest)

    with zipfile.ZipFile(io.BytesIO(archive)) as opened:
        content = opened.read(f"tables/{table}.jsonl")
    return resealed(archive, f"tables/{table}.jsonl", content, act(content))


PLOTS = "tables/plots.jsonl"


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda archive: archive[: len(archive) // 2], "not a whole archive"),
        (lambda _: b"plot;area\n", "not a whole archive"),
        (lambda archive: changed(archive, PLOTS, lambda content: content + b" "), "was changed since"),
        (lambda archive: changed(archive, PLOTS, lambda _: None), "is missing"),
        (lambda archive: within(archive, PLOTS), "not a whole archive"),
        (lambda archive: resealed(archive, PLOTS, b'"Long Border 7"', b'"Long \\ud800"'), "line 1: this is not a row"),
        (lambda archive: resealed(archive, PLOTS, b'"Long Border 7"', b'"Long \\u0000"'), "line 1: this is not a row"),
        (lambda archive: changed(archive, "manifest.json", lambda _: b'{"format": 99, "files": {}}'), "newer program"),
        (lambda archive: resealed(archive, PLOTS, b'"area_m2":18.0', b'"area_m2":NaN'), "line 1: this is not a row"),
        (lambda archive: resealed(archive, PLOTS, b'"area_m2":18.0', b'"area_m2":-18.0'), "does not fit"),
        (lambda archive: resealed(archive, PLOTS, b'"kind":"bed"', b'"kind":"sea"'), "line 1: kind"),
        (lambda archive: resealed(archive, "tables/plantings.jsonl", b'"plot":', b'"plot":9'), "line 1: plot is 9"),
    ],
    ids=[
        "cut short",
        "a stream spoilt",
        "half a letter",
        "a zero byte",
        "another file",
        "changed",
        "a table gone",
        "newer",
        "no number",
        "out of bounds",
        "no choice",
        "a key of nobody",
    ],
)
def test_a_spoilt_archive_is_refused_with_its_reason_and_nothing_goes_in(archive, spoil, says):
    new = holding("New place")
    with pytest.raises(ArchiveRefused, match=says):
        put_back(new, io.BytesIO(spoil(archive)))
    assert not any(table.rows(new).exists() for table in TABLES)


SHAPED = [(table.name, column) for table in TABLES for column in table.fields() if isinstance(column, ShapedField)]


def test_every_column_of_json_says_what_it_holds():
    assert not [
        f"{table.name}.{column.name}"
        for table in TABLES
        for column in table.fields()
        if isinstance(column, JSONField) and not (isinstance(column, ShapedField) and column.of)
    ]


@pytest.mark.parametrize(("table", "column"), SHAPED, ids=[f"{table}.{column.name}" for table, column in SHAPED])
def test_a_row_of_another_shape_is_refused(db, everything, table, column):
    new = holding("New place")
    usual = column.get_default() if column.has_default() else None
    for value in ([], {}, "words", 7, [[]], [{"x": "y"}], {"x": {"y": []}}):
        if value != usual and (value or usual is not None or not column.null):
            with pytest.raises(ArchiveRefused, match=f"line 1: ({column.name}|there is no such)"):
                put_back(new, io.BytesIO(with_value(everything, table, column.name, value)))


@pytest.fixture
def everything(objects, border) -> bytes:
    PlanProposal.objects.filter(plot=border).update(state="declined")
    return taken(border.holding)


def test_by_hand_from_one_account_to_another(grower, client, archive, border):
    page = grower.get(reverse("archive_file"))
    assert page.headers["Content-Type"] == "application/zip"
    assert told(b"".join(page.streaming_content)) == told(archive)
    refused = grower.post(reverse("archive"), {"archive": SimpleUploadedFile("a.zip", archive)})
    assert "has plots already" in refused.content.decode()
    other = holding("Other place")
    client.force_login(other.members.get())
    client.post(reverse("archive"), {"archive": SimpleUploadedFile("a.zip", archive)})
    assert [row.name for row in other.plots.all()] == [border.name]
    assert told(taken(other))["reports"] == told(archive)["reports"]


def test_an_archive_of_the_first_form_still_goes_back(db):
    new = holding("Later")
    made = put_back(new, io.BytesIO((Path(__file__).parent / "data" / "archive-form-1.zip").read_bytes()))
    assert made.rows["plots"] == new.plots.count() > 2
    assert new.hemisphere == "south"
    assert made.rows["results"] > 10


def test_each_part_goes_back_alone_finds_its_plots_by_name_and_only_once(border):
    old = border.holding
    StockLot.objects.create(holding=old, material="urea", kg=3)
    LogEntry.objects.create(holding=old, plot=border, material="urea", name="urea", kg=1)
    Sighting.objects.create(holding=old, plot=border, seen=["col_yellow"])
    taken_out = taken(old)
    new = Holding.objects.create(name="Elsewhere")
    with pytest.raises(ArchiveRefused, match=r"There is no plot called “.+” here. Put the plots back first."):
        put_back(new, io.BytesIO(taken_out), part="readings")
    for part in PARTS:
        assert put_back(new, io.BytesIO(taken_out), part=part).known == 0
    counts = {table.name: table.rows(new).count() for table in TABLES}
    assert counts == {table.name: table.rows(old).count() if table.part else 0 for table in TABLES}
    for part in PARTS:
        again = put_back(new, io.BytesIO(taken_out), part=part)
        assert sum(again.rows.values()) == 0
    assert counts == {table.name: table.rows(new).count() for table in TABLES}
    assert [entry.plot.name for entry in new.log.all()] == [border.name]


@pytest.fixture
def by_parts(monkeypatch):
    """Everything is large, and goes by few rows at a time."""
    monkeypatch.setattr("web.overview.archive.views.LARGE", 0)
    monkeypatch.setattr("web.overview.closing.LARGE", 0)
    for room in ("parts", "putting_back"):
        monkeypatch.setattr(f"web.overview.archive.{room}.IN_A_PART", 25)
    monkeypatch.setattr("web.overview.archive.parts.PAUSE_S", 0)


def send(client, archive: bytes, part: str = ""):
    return client.post(reverse("archive"), {"archive": SimpleUploadedFile("a.zip", archive), "part": part}, follow=True)


def rows_kept() -> dict[str, int]:
    return {table.name: table.model._base_manager.count() for table in TABLES} | {"holdings": Holding.objects.count()}


def test_a_large_holding_is_closed_and_put_back_by_parts(client, db, by_parts):
    load(TODAY)
    for name in ("Thornmere", "Quillon Bend"):
        of = Holding.objects.get(name=name)
        user, before, there = of.memberships.filter(role="owner").first().user, taken(of), rows_kept()
        people = list(of.memberships.values_list("user", "role"))
        close_holding(of)
        assert not Holding.objects.filter(pk=of.pk).exists()
        assert not LabReport.objects.filter(holding=of.pk).exists()
        new = Holding.objects.create(name="Elsewhere")
        Membership.objects.bulk_create(Membership(holding=new, user_id=member, role=role) for member, role in people)
        client.force_login(user)
        client.post(reverse("people:choose_holding"), {"holding": new.pk})
        assert "Restored: " in text_of(send(client, before))
        new.refresh_from_db()
        assert told(taken(new)) == told(before)
        assert rows_kept() == there


def test_a_large_archive_that_is_spoilt_or_stopped_leaves_nothing(client, db, by_parts, monkeypatch, settings):
    load(TODAY)
    archive, empty = taken(Holding.objects.get(name="Thornmere")), Holding.objects.create(name="Empty")
    user = Holding.objects.get(name="Thornmere").memberships.filter(role="owner").first().user
    Membership.objects.create(holding=empty, user=user, role="owner")
    client.force_login(user)
    client.post(reverse("people:choose_holding"), {"holding": empty.pk})
    before = rows_kept()
    late = resealed(archive, "tables/log.jsonl", b'"plot":', b'"plot":9')
    assert "Not restored" in text_of(send(client, late))
    assert rows_kept() == before
    settings.TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
    assert "0 of about" in text_of(send(client, archive))
    monkeypatch.setattr(work, "WAITS_S", -1)  # no worker comes
    assert "It was stopped" in text_of(client.post(reverse("archive"), {"stop": "1"}, follow=True))
    assert rows_kept() == before
    assert not list((Path(django_settings.VAR) / "putting-back").iterdir())


@pytest.mark.django_db(transaction=True)
def test_who_writes_while_a_holding_is_taken_out_does_not_wait_and_is_not_seen():
    made = holding("Thornmere")

    def write() -> None:
        plot(made, "Meanwhile")
        connections.close_all()

    with one_moment():
        assert not made.plots.exists()
        other = threading.Thread(target=write)
        other.start()
        other.join(timeout=10)
        assert not other.is_alive()
        assert not made.plots.exists()
    assert made.plots.exists()
