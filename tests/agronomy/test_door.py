"""The command line: what it prints, and how it refuses."""

import io
import json

import orjson
import pytest
from pydantic import TypeAdapter

from agronomy.base.showing import significant
from agronomy.cli.main import main
from agronomy.cli.plans import planned_lines
from agronomy.intake.documents import plan_to_document
from agronomy.intake.request import read_request
from agronomy.plan.plan import make_plan
from agronomy.tables import load_tables
from benchmarks.made_up import requests
from tests.helpers.requests import ACID, document


def run(capsys, *words: str, stdin: str = "", monkeypatch=None):
    if monkeypatch is not None:
        monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(stdin.encode())))
    code = main(list(words))
    said = capsys.readouterr()
    return code, said.out, said.err


def test_plan_from_a_file_and_from_standard_input_agree(capsys, monkeypatch, tmp_path):
    path = tmp_path / "request.json"
    path.write_text(json.dumps(document(*ACID)), encoding="utf-8")
    from_file = run(capsys, "plan", str(path))
    from_input = run(capsys, "plan", "-", stdin=path.read_text(), monkeypatch=monkeypatch)
    assert from_file == from_input
    assert json.loads(from_file[1])["applications"][0]["material"] == "dolomitic_limestone_ground"


def test_many_go_on_past_a_bad_line(capsys, tmp_path):
    path = tmp_path / "requests.jsonl"
    path.write_text("\n".join([json.dumps(document(*ACID)), "{not json", json.dumps(document(*ACID, crop="dahlja"))]), encoding="utf-8")
    code, out, _ = run(capsys, "plan", "--many", str(path))
    good, broken, unknown = (json.loads(line) for line in out.splitlines())
    assert code == 0
    assert good["findings"]
    assert "not JSON" in broken["errors"][0]["problem"]
    assert unknown["errors"][0]["mend"].startswith("which of these is it: dahlia, ")


def test_several_processes_write_the_same_plans_in_the_same_order_with_and_without_workings():
    lines = [json.dumps(doc).encode() for doc in requests(150, sorted(load_tables().crops), 7)]
    lines[70] = b"{not json"
    for workings in (True, False):
        alone, together = (list(planned_lines(lines, workings=workings, processes=count)) for count in (1, 2))
        assert alone == together
        written = [orjson.loads(line) for line in alone]
        assert [number for number, plan in enumerate(written) if "errors" in plan] == [70]
        assert any(finding["working"] for finding in written[0]["findings"]) == workings


def test_a_plan_is_written_as_pydantic_writes_it():
    def cut(value):
        if isinstance(value, dict):
            named = {{"class_": "class", "from_": "from"}.get(key, key): cut(item) for key, item in value.items()}
            return (
                {key: named[key] for key in ("value", "unit")}
                if named.keys() == {"value", "unit", "source"} and not named["source"]
                else named
            )
        if isinstance(value, list | tuple):
            return [cut(item) for item in value]
        return significant(value, 6) if isinstance(value, float) else value

    for doc in requests(40, sorted(load_tables().crops), 3):
        plan = make_plan(read_request(doc, load_tables()), load_tables())
        assert plan_to_document(plan) == cut(TypeAdapter(type(plan)).dump_python(plan, mode="json"))


BAD = {
    "today": "soon",
    "plot": {"name": "Bed", "area": "-3 m2", "depth": "15 cmz", "texture": "mud"},
    "crop": {"key": "triffid"},
    "readings": [
        {"analyte": "pH", "value": 56},
        {"analyte": "K", "value": "1,234", "unit": "mg/kg", "method": "magic"},
        {"analyte": "unobtainium", "value": 1},
        {"analyte": "P", "value": "x" * 10_000},
    ],
    "shed": [{"material": "ureea", "price": "-1", "in_stock": "5 kg"}],
    "colour": "red",
}
FIELDS = {
    "today",
    "colour",
    "plot.area",
    "plot.depth",
    "plot.texture",
    "crop.key",
    "readings.0.value",
    "readings.1.method",
    "readings.1.value",
    "readings.2.analyte",
    "readings.3.value",
    "shed.0.material",
    "shed.0.price",
}


def test_a_bad_request_hears_of_every_error_at_once(capsys, monkeypatch):
    code, out, err = run(capsys, "plan", "-", stdin=json.dumps(BAD), monkeypatch=monkeypatch)
    errors = json.loads(err)["errors"]
    assert (code, out) == (2, "")
    assert {item["field"] for item in errors} == FIELDS
    assert all(item["problem"] and item["mend"] and len(json.dumps(item)) < 600 for item in errors)
    mends = {item["field"]: item["mend"] for item in errors}
    assert "5.6" in mends["readings.0.value"]
    assert "cm" in mends["plot.depth"]
    assert "1234 or 1.234" in mends["readings.1.value"]
    assert "urea" in mends["shed.0.material"]


@pytest.mark.parametrize("place", ["today", "plot", "readings", "caps", "nowhere"])
def test_a_request_of_boxes_in_boxes_is_refused(place):
    line = json.dumps(BAD | {place: 0}).replace(f'"{place}": 0', f'"{place}": ' + '{"a": [' * 300 + "]}" * 300)
    errors = json.loads(next(planned_lines([line.encode()], processes=1)))["errors"]
    assert ["nested" in item["problem"] for item in errors] == [True]


@pytest.mark.parametrize(
    "words",
    [
        ["plan", "no-such-file.json"],
        ["dig"],
        [],
        ["convert", "3 furlongs", "kg/ha"],
        ["convert", "kg", "g"],
        ["convert", "1 mg/kg", "kg/ha"],
        ["convert", "1 cup", "kg"],
        ["convert", "1 kg/ha P2O5", "kg/ha K"],
    ],
)
def test_refusals_are_json_on_standard_error(capsys, words):
    code, out, err = run(capsys, *words)
    assert (code, out) == (2, "")
    assert json.loads(err)["errors"][0]["mend"]


@pytest.mark.parametrize(("name", "least"), [("crops", 24), ("materials", 20), ("sources", 20)])
def test_tables_print_as_json_with_sources(capsys, name, least):
    code, out, _ = run(capsys, name)
    rows = json.loads(out)
    assert code == 0
    assert len(rows) >= least
    assert all(row.get("source") or row.get("cite") for row in rows)


def test_crops_stand_in_at_least_eight_groups(capsys):
    assert len({row["group"] for row in json.loads(run(capsys, "crops")[1])}) >= 8


def test_a_laboratory_file_is_read_at_the_command_line_and_nothing_is_dropped(capsys, tmp_path):
    path = tmp_path / "report.csv"
    path.write_text("Fenwick Soil Room\nSample,pH,P,Wobble\nA,6.0,<2,7\nB,66,12,\nEnd of report\n", encoding="utf-8")
    code, out, err = run(capsys, "readings", str(path), "--answer", "unit:P=lb/acre", "--answer", "method:P=Olsen")
    lines = [json.loads(line) for line in out.splitlines()]
    assert code == 0
    assert [(line["sample"], line["analyte"], line["unit"], line["row"], line["column"]) for line in lines if line["analyte"] == "P"] == [
        ("A", "P", "lb/acre", 3, "C"),
        ("B", "P", "lb/acre", 4, "C"),
    ]
    assert next(line for line in lines if line["analyte"] == "Wobble")["doubt"].startswith("not an analyte")
    assert "did you mean 6.6" in next(line for line in lines if line["sample"] == "B" and line["analyte"] == "pH")["doubt"]
    assert "End of report" in err
    assert run(capsys, "readings", str(tmp_path / "none.csv"))[0] == 2


@pytest.mark.parametrize(
    ("kind", "sizes"),
    [
        ("row_block", {"rows": 6, "row_length": "40 m", "row_width": "75 cm"}),
        ("tree", {"canopy": "3 m"}),
        ("container", {"count": 12, "volume": "45 L"}),
        ("bale", {"count": 8, "bale_length": "90 cm", "bale_width": "45 cm", "bale_height": "35 cm"}),
    ],
)
def test_a_plan_is_made_for_any_kind_of_ground_by_its_sizes(capsys, tmp_path, kind, sizes):
    request = document(*ACID)
    request["plot"] = {name: value for name, value in request["plot"].items() if name != "area"} | {"kind": kind, "sizes": sizes}
    path = tmp_path / "request.json"
    path.write_text(json.dumps(request), encoding="utf-8")
    code, out, _ = run(capsys, "plan", str(path))
    assert code == 0
    assert json.loads(out)["findings"]
    request["plot"]["sizes"] = {"girth": 3}
    path.write_text(json.dumps(request), encoding="utf-8")
    code, _, err = run(capsys, "plan", str(path))
    assert code == 2
    assert "has no girth" in err


@pytest.mark.parametrize(
    ("words", "says"),
    [
        (["schools", "-"], lambda told: set(told) >= {"sufficiency", "build_maintain"}),
        (["outlook", "-"], lambda told: {row["years"] for row in told["expected"]} >= {1, 3}),
        (["learn", "-"], lambda told: "Nothing is learnt yet" in told["says"]),
        (["sharpen", "-"], lambda told: all(row["price"] >= 0 for row in told)),
        (["untested", "-", "--sign", "white or chalky bits in it"], lambda told: told["guesses"][0]["strength"] > 0),
        (["fits", "-", "--crop", "dahlia", "--crop", "blueberry"], lambda told: {row["crop"] for row in told} == {"dahlia", "blueberry"}),
        (["holding", "-"], lambda told: told["shares"][0]["name"] == "Long Border 7" and told["cost"] > 0),
        (["tank", "--part", "epsom_salt=10"], lambda told: told["full"]["kg"] == [0.1]),
        (["acid", "--alkalinity", "250", "--ph", "7.8", "--target", "6.2"], lambda told: told["dose"]["acid"] == "citric"),
        (["blend", "--part", "blood_meal=1", "--part", "kelp_meal=1"], lambda told: 6 < told["contents"]["n"] < 7),
        (["bale", "urea", "--bales", "4"], lambda told: told["days"][0]["product_g"] > 0),
        (["programme", "grass_cuts", "--count", "100"], lambda told: told[0]["material"] and told[0]["kg"] > 0),
        (["programme"], lambda told: any(row["programme"] == "grass_cuts" for row in told)),
        (["signs"], lambda told: "colour" in told),
        (
            ["topdress", "maize", "--instrument", "meter", "--meter", "46.2", "--strip", "50.6", "--material", "calcium_ammonium_nitrate"],
            lambda told: 128 < told["source"]["kg_per_ha"] < 130,
        ),
    ],
    ids=lambda words: words[0] if isinstance(words, list) else "",
)
def test_every_other_answer_of_the_core_has_a_command(capsys, monkeypatch, words, says):
    code, out, err = run(capsys, *words, stdin=json.dumps(document(*ACID)), monkeypatch=monkeypatch)
    assert (code, err) == (0, "")
    assert says(json.loads(out))


@pytest.mark.parametrize(
    ("words", "field"),
    [
        (["tank", "--part", "mud=3"], "part"),
        (["tank", "--part", "urea"], "part"),
        (["untested", "-", "--sign", "a dragon"], "sign"),
        (["fits", "-", "--crop", "triffid"], "crop"),
        (["programme", "nothing"], "programme"),
        (["acid", "--alkalinity", "250", "--ph", "7.8", "--target", "6.2", "--acid", "aqua regia"], "acid"),
    ],
)
def test_a_wrong_word_is_named(capsys, monkeypatch, words, field):
    code, out, err = run(capsys, *words, stdin=json.dumps(document(*ACID)), monkeypatch=monkeypatch)
    assert (code, out) == (2, "")
    assert json.loads(err)["errors"][0]["field"] == field
