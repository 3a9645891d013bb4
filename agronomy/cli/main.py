"""Many plots at once, and the command line. Exit 0: done. Exit 2: the request is wrong, all errors as JSON on standard error."""

import argparse
import json
import sys
from contextlib import nullcontext
from dataclasses import asdict
from pathlib import Path
from typing import Any

from agronomy.base.collector import spare_the_collector
from agronomy.base.errors import RequestError, RuleError
from agronomy.base.said import Reader
from agronomy.cli.asking import add_commands, answer_about_a_plot, answer_alone, holding_of
from agronomy.cli.diagnosing import diagnosis
from agronomy.cli.plans import planned_lines
from agronomy.intake.answering import as_request, errors_document, plan_document
from agronomy.intake.conversion import convert
from agronomy.intake.documents import plan_schema, request_schema
from agronomy.intake.request import read_request
from agronomy.plan.criticised import criticised
from agronomy.plan.letter import head_of, letter
from agronomy.plan.plan import make_plan
from agronomy.tables import Tables, load_tables


def _parse(text: str) -> Any:
    try:
        return json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RequestError([RuleError("request", text[:40], f"this is not JSON: {error}", "check quotes, commas and brackets")]) from None


def _request(text: str) -> dict[str, Any]:
    return as_request(_parse(text))


def _bytes(name: str) -> bytes:
    try:
        return sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()
    except OSError as error:
        raise _unreadable(name, error) from None


def _unreadable(name: str, error: OSError) -> RequestError:
    return RequestError([RuleError("file", name, error.strerror or "cannot be read", "check the file's name")])


def _read_file(name: str) -> str:
    try:
        return _bytes(name).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise RequestError([RuleError("file", name, "this is not UTF-8 text", "save it as UTF-8")]) from None


def _plan(args: argparse.Namespace, tables: Tables) -> None:
    if args.many:
        _plan_many(args)
        return
    text = _read_file(args.request)
    if args.letter:
        request = read_request(_request(text), tables)
        reader = Reader(request.units, today=request.today)
        names = {"plot": request.plot.name, "crop": request.crop.name, "to": args.to, "by": args.by}
        print(letter(make_plan(request, tables), reader=reader, head=head_of(request), **names).text)
        return
    _show(plan_document(_parse(text), tables))


def _plan_many(args: argparse.Namespace) -> None:
    if args.letter:
        raise RequestError([RuleError("letter", "--many", "a letter is of one plan", "give one request")])
    try:
        with nullcontext(sys.stdin.buffer) if args.many == "-" else Path(args.many).open("rb") as lines:
            for line in planned_lines(lines, workings=args.workings, processes=args.processes):
                sys.stdout.buffer.write(line + b"\n")
    except OSError as error:
        if isinstance(error, BrokenPipeError):
            raise
        raise _unreadable(args.many, error) from None
    sys.stdout.flush()


def _convert(args: argparse.Namespace, tables: Tables) -> None:
    about = {"depth": args.depth, "bulk_density": args.bulk_density, "material": args.material, "country": args.country}
    _show(convert(args.quantity, args.unit, **about, tables=tables))


def _table(args: argparse.Namespace, tables: Tables) -> None:
    if args.command == "sources":
        _show([asdict(row) for row in tables.sources.values()])
    else:
        rows = tables.crops if args.command == "crops" else tables.materials
        _show([asdict(row) for row in rows.values()])


def _readings(args: argparse.Namespace, tables: Tables) -> None:
    """One reading a line; rows that hold none are told on standard error, so that nothing is lost in silence."""
    from agronomy.labfile import Remark, lines_of, understand  # only this command needs the readers of files

    content = _bytes(args.file)
    answers = {"medium": args.medium} | {key: value for key, _, value in (answer.partition("=") for answer in args.answer)}
    understood = understand(content, Path(args.file).name, tables, answers=answers, sheet=args.sheet)
    open_ = [question for question in understood.questions if question.key not in answers]
    if open_ and args.strict:
        raise RequestError([_unanswered(question) for question in open_])
    remarks = []
    for line in lines_of(understood, tables):
        if isinstance(line, Remark):
            remarks.append({"row": line.row, "text": line.text})
        else:
            print(json.dumps(line.as_document(), ensure_ascii=False))
    told = {"remarks": remarks, "understood": [*understood.said, *(f"{note.says}: “{note.line}”" for note in understood.notes)]}
    told["questions"] = [
        {"key": question.key, "text": question.text, "answers": [key for key, _ in question.choices]} for question in open_
    ]
    print(json.dumps({key: value for key, value in told.items() if value}, ensure_ascii=False), file=sys.stderr)


def _unanswered(question: Any) -> RuleError:
    choices = ", ".join(key for key, _ in question.choices[:12] if key)
    return RuleError(question.key, None, question.text, f"answer with --answer “{question.key}=…”: {choices}")


def _critic(args: argparse.Namespace, tables: Tables) -> None:
    """A line for each fault of the plan and letter of each request; ends with 1 where there is any."""
    found = 0
    for line in (line for line in _requests(_read_file(args.requests)) if line.strip()):
        request = read_request(_request(line), tables)
        for fault in criticised(request, tables):
            found += 1
            print(f"{request.plot.name}: {fault.id}: {fault.says}")
    if found:
        raise SystemExit(1)


def _requests(text: str) -> list[str]:
    """One request over many lines, or one a line."""
    lines = text.splitlines()
    return lines if len(lines) > 1 and all(line.strip()[:1] in ("", "{") and line.strip()[-1:] in ("", "}") for line in lines) else [text]


def _schema(args: argparse.Namespace, tables: Tables) -> None:
    _show(request_schema() if args.which == "request" else plan_schema())


def _show(document: Any) -> None:
    print(json.dumps(document, ensure_ascii=False, indent=2))


def _features(args: argparse.Namespace, tables: Tables) -> None:
    rows = tables.watch.features.values()
    _show([{"feature": row.key, "question": row.question, "answer": row.answer, "look": row.look} for row in rows])


def _diagnose(args: argparse.Namespace, tables: Tables) -> None:
    _show(diagnosis(args.crop, args.yes, args.no, args.reading, tables))


def _about_a_plot(args: argparse.Namespace, tables: Tables) -> None:
    _show(answer_about_a_plot(args, _request(_read_file(args.request)), tables))


def _holding(args: argparse.Namespace, tables: Tables) -> None:
    lines = [line for line in _read_file(args.requests).splitlines() if line.strip()]
    _show(holding_of([_request(line) for line in lines], args.aim, tables, args.most_money))


def _alone(args: argparse.Namespace, tables: Tables) -> None:
    _show(answer_alone(args, tables))


class _Parser(argparse.ArgumentParser):
    def error(self, message: str):
        raise RequestError([RuleError("command", " ".join(sys.argv[1:])[:80], message, "see python -m agronomy --help")])


def _plan_commands(commands: Any) -> None:
    plan = commands.add_parser("plan", help="one plan for a request, or many with --many")
    source = plan.add_mutually_exclusive_group(required=True)
    source.add_argument("request", nargs="?", help="a JSON file, or - for standard input")
    source.add_argument("--many", metavar="REQUESTS.jsonl", help="one request a line in, one plan a line out")
    plan.add_argument("--workings", action="store_true", help="with --many: each plan with all its steps, ten times as long")
    plan.add_argument("--processes", type=int, choices=range(1, 65), metavar="N", help="with --many: how many at once; else all processors")
    plan.add_argument("--letter", action="store_true", help="the plan as a letter of a page, in plain text")
    plan.add_argument("--to", default="", help="whom the letter greets")
    plan.add_argument("--by", default="", help="who signs it")
    plan.set_defaults(act=_plan)
    critic = commands.add_parser(
        "critic", help="what keeps plans and letters of requests from being signed; ends with 1 where anything does"
    )
    critic.add_argument("requests", help="a JSON file with a request, or one a line; - for standard input")
    critic.set_defaults(act=_critic)


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="iron-rake", description="Soil readings in, a reasoned plan out.")
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)
    _plan_commands(commands)
    conversion = commands.add_parser("convert", help='convert a quantity: "40 lb/1000 ft2" kg/ha')
    conversion.add_argument("quantity")
    conversion.add_argument("unit")
    conversion.add_argument("--depth", help='depth of the soil layer, such as "15 cm"')
    conversion.add_argument("--bulk-density", type=float, help="g/cm3 of the soil layer")
    conversion.add_argument("--material", help="key of a material, for measures by volume and by the bag")
    conversion.add_argument("--country", help="two letters, for a hundredweight: 112 lb in GB, 100 lb in US")
    conversion.set_defaults(act=_convert)
    ailing = commands.add_parser("diagnose", help="what ails a plant: causes ranked, what to ask next, the test that confirms")
    ailing.add_argument("--crop", default="", help="key of the crop")
    ailing.add_argument("--yes", action="append", default=[], metavar="FEATURE", help="a feature that is seen (`iron-rake features`)")
    ailing.add_argument("--no", action="append", default=[], metavar="FEATURE", help="a feature that was looked for and is not there")
    ailing.add_argument("--reading", action="append", default=[], metavar="KIND=LEVEL", help='a reading, such as "soil K=very high"')
    ailing.set_defaults(act=_diagnose)
    commands.add_parser("features", help="what a plant can show, as JSON").set_defaults(act=_features)
    for name in ("crops", "materials", "sources"):
        commands.add_parser(name, help=f"the table of {name} as JSON").set_defaults(act=_table)
    add_commands(commands, _about_a_plot, _holding, _alone)
    readings = commands.add_parser("readings", help="a laboratory's file (CSV, text, mail, PDF, XLSX, JSON): one reading a line")
    readings.add_argument("file", help="the file, or - for standard input")
    readings.add_argument("--sheet", help="name of the sheet in a workbook")
    readings.add_argument("--medium", choices=["soil", "water", "leaf", "material"], default="soil", help="what was tested")
    readings.add_argument(
        "--answer",
        action="append",
        default=[],
        metavar="KEY=VALUE",
        help='what the file does not say, such as "method:P=Olsen" or "unit:P=mg/kg"',
    )
    readings.add_argument("--strict", action="store_true", help="exit 2 where the file leaves anything to ask, and say what")
    readings.set_defaults(act=_readings)
    schema = commands.add_parser("schema", help="the JSON Schema of a request or a plan")
    schema.add_argument("which", choices=["request", "plan"])
    schema.set_defaults(act=_schema)
    return parser


def main(argv: list[str]) -> int:
    try:
        args = _parser().parse_args(argv)
        tables = load_tables()
        spare_the_collector()
        args.act(args, tables)
    except RequestError as error:
        print(json.dumps(errors_document(error), ensure_ascii=False), file=sys.stderr)
        return 2
    except RuleError as error:
        print(json.dumps(errors_document(RequestError([error])), ensure_ascii=False), file=sys.stderr)
        return 2
    return 0
