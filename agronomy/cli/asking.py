"""What else the core answers, each as a command: about one plot, about many, and at a desk.

Each takes a request of the plan format, or its own few words, and gives plain values.
"""

import argparse
from collections.abc import Callable
from dataclasses import replace
from datetime import date
from typing import Any, get_args

from agronomy.apply.acid import acidify, before_and_after
from agronomy.apply.bale import start_bales
from agronomy.apply.blend import BlendPart, blend
from agronomy.apply.tank import WAYS, Part, tank
from agronomy.base.errors import NotANumber, OutOfRange, RequestError, RuleError, UnknownName
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import parse_quantity
from agronomy.ground.crop_names import crop_named
from agronomy.intake.request import read_request
from agronomy.intake.writing import Writer
from agronomy.model.request import Request
from agronomy.plan.assess import assess
from agronomy.plan.needs import side_by_side
from agronomy.schedule.programme import dated, programmes
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.material import Material
from agronomy.watch.in_source import in_source
from agronomy.watch.topdress import PLACES, Instrument, Seen, topdress
from agronomy.whatif.case import case_for
from agronomy.whatif.fit import best_crops
from agronomy.whatif.forecast.learned import learn
from agronomy.whatif.forecast.learned_pools import learn_pool
from agronomy.whatif.forecast.outlook import outlook
from agronomy.whatif.holding import AIMS, choose_for_holding
from agronomy.whatif.no_test import questions, without_test
from agronomy.whatif.sharpen import what_would_sharpen

MOST_PLOTS = 200
_writer = Writer(by_key=(Material, Crop))


def _schools(request: Request, args: argparse.Namespace, tables: Tables) -> Any:
    return side_by_side(assess(request, tables), tables)


def _outlook(request: Request, args: argparse.Namespace, tables: Tables) -> Any:
    return outlook(request, tables)


def _sharpen(request: Request, args: argparse.Namespace, tables: Tables) -> Any:
    return what_would_sharpen(request, tables)


def _untested(request: Request, args: argparse.Namespace, tables: Tables) -> Any:
    known = {answer for answers in questions(tables).values() for answer in answers}
    for sign in args.sign:
        if sign not in known:
            raise UnknownName("sign", sign[:60], f"“{sign[:60]}” is no sign that is asked about", "see `iron-rake signs`")
    return without_test(replace(request, readings=()), set(args.sign), tables)


def _learn(request: Request, args: argparse.Namespace, tables: Tables) -> Any:
    told = learn(request, tables)
    pools, says = [], [told.says]
    for key in ("P", "K"):
        try:
            pools.append(learn_pool(request, key, tables))
        except RuleError:  # no test of it, or none by a method that a figure is known for
            continue
        says.append(pools[-1].says)
    return {"says": " ".join(says), "learned": told, "pools": pools}


def _fits(request: Request, args: argparse.Namespace, tables: Tables) -> Any:
    keys = [crop_named(name, {}, tables) for name in args.crop or tables.crops]
    return best_crops(request, [tables.crops[key] for key in keys], tables)


ABOUT_A_PLOT: dict[str, tuple[str, Callable[[Request, argparse.Namespace, Tables], Any]]] = {
    "schools": ("the needs by every school, side by side", _schools),
    "outlook": ("what the readings are expected to be in some years", _outlook),
    "sharpen": ("which test or look would narrow the plan most", _sharpen),
    "untested": ("cautious rates without a test, from what the ground shows", _untested),
    "learn": ("how much lime, phosphate and potash this ground takes beside the tables', from its own tests and what was put on", _learn),
    "fits": ("which crops fit the ground as it is", _fits),
}


def answer_about_a_plot(args: argparse.Namespace, document: Any, tables: Tables) -> Any:
    """What one of ABOUT_A_PLOT says of a request's document, as plain values. Raises RequestError."""
    return _writer.write(ABOUT_A_PLOT[args.command][1](read_request(document, tables), args, tables))


def holding_of(documents: list[Any], aim: str, tables: Tables, most_money: float | None = None) -> dict[str, Any]:
    """The bags for many plots at once: whole bags, shared, from the shed first. Raises RequestError. Source: each plot's own plan."""
    if not 1 <= len(documents) <= MOST_PLOTS:
        raise RequestError([OutOfRange("plots", len(documents), f"a holding has 1 to {MOST_PLOTS} plots here", "split the file")])
    requests = [read_request(document, tables) for document in documents]
    shed = {key: line for request in requests for key, line in request.shed.items()}
    sizes = {key: row.bag_kg for key, row in tables.materials.items() if row.bag_kg}
    cases = [case_for(request, tables) for request in requests]
    try:
        return _writer.write(choose_for_holding(cases, shed, sizes, aim, tables, most_money=most_money))
    except OutOfRange as error:
        raise RequestError([error]) from None


def _pairs(typed: list[str], field: str, tables: Tables) -> list[tuple[Material, str]]:
    """Texts such as `urea=5 kg/ha` as materials and what stands behind them."""
    found = []
    for text in typed:
        key, _, told = text.partition("=")
        if key not in tables.materials:
            raise UnknownName(field, key[:40], f"“{key[:40]}” is not in our list of products", "see `iron-rake materials`")
        if not told:
            raise NotANumber(field, text[:40], "how much is missing", f"write {key}=5")
        found.append((tables.materials[key], told))
    return found


def _tank(args: argparse.Namespace, tables: Tables) -> Any:
    return tank(
        [Part(material, parse_quantity(told, "rate", "part")) for material, told in _pairs(args.part, "part", tables)],
        args.way,
        tables,
        area_m2=parse_quantity(args.area, "area", "area"),
        water_l_per_ha=parse_quantity(args.water, "water_rate", "water"),
        tank_l=parse_quantity(args.tank, "volume", "tank"),
        water_ec=args.ec,
        tender=args.tender,
    )


def _acid(args: argparse.Namespace, tables: Tables) -> Any:
    if args.acid not in tables.liquids.acids:
        raise UnknownName(
            "acid", args.acid[:40], f"“{args.acid[:40]}” is not in our list of acids", f"use one of {', '.join(tables.liquids.acids)}"
        )
    dose = acidify(args.alkalinity, args.ph, args.target, args.acid, tables)
    return {"dose": dose, "water": before_and_after(args.alkalinity, args.ph, args.target, dose, tables)}


def _blend(args: argparse.Namespace, tables: Tables) -> Any:
    parts = [BlendPart(material, parse_number(told, "part")) for material, told in _pairs(args.part, "part", tables)]
    return blend(parts, args.by, {}, tables)


def _bale(args: argparse.Namespace, tables: Tables) -> Any:
    material = _pairs([f"{args.material}=1"], "material", tables)[0][0]
    return start_bales(material, args.bales, tables, hay=args.hay)


def _programme(args: argparse.Namespace, tables: Tables) -> Any:
    ready = programmes(tables)
    if args.programme is None:
        return [{"programme": key, "name": row.name, "per": row.per, "anchor": row.anchor, "says": row.says} for key, row in ready.items()]
    if args.programme not in ready:
        raise UnknownName("programme", args.programme[:40], "that programme is not known", f"use one of {', '.join(ready)}")
    return dated(ready[args.programme], args.start or date.today(), args.count, tables)


def _topdress(args: argparse.Namespace, tables: Tables) -> Any:
    told = topdress(
        Seen(
            crop=tables.crops[crop_named(args.crop, {}, tables)],
            instrument=args.instrument,
            place=args.place,
            leaves=tuple(parse_number(word, "leaves") for word in args.leaves.replace(";", " ").split()),
            meter=args.meter,
            strip=args.strip,
            value=args.value,
            rule=args.rule,
            remaining_kg_per_ha=args.remaining,
        ),
        tables,
    )
    if not args.material:
        return told
    source = in_source(told.n_kg_per_ha, _pairs([f"{args.material}=1"], "material", tables)[0][0], args.remaining, tables)
    return {"topdress": told, "source": source}


def _signs(args: argparse.Namespace, tables: Tables) -> Any:
    return questions(tables)


ALONE: dict[str, Callable[[argparse.Namespace, Tables], Any]] = {
    "tank": _tank,
    "acid": _acid,
    "blend": _blend,
    "bale": _bale,
    "programme": _programme,
    "signs": _signs,
    "topdress": _topdress,
}


def answer_alone(args: argparse.Namespace, tables: Tables) -> Any:
    """What one of ALONE says, as plain values. Raises RuleError."""
    return _writer.write(ALONE[args.command](args, tables))


def add_commands(commands: Any, about_a_plot: Callable, holding: Callable, alone: Callable) -> None:
    """Adds the commands to a parser, with what each calls."""
    for name, (says, _) in ABOUT_A_PLOT.items():
        command = commands.add_parser(name, help=says)
        command.add_argument("request", help="a request as for plan: a JSON file, or - for standard input")
        command.set_defaults(act=about_a_plot)
        if name == "untested":
            command.add_argument("--sign", action="append", default=[], help="what the ground shows (`iron-rake signs`)")
        if name == "fits":
            command.add_argument("--crop", action="append", default=[], help="a crop's key; all crops where none is given")
    command = commands.add_parser("holding", help="bags for many plots at once: whole, shared, from the shed first")
    command.add_argument("requests", help="one request a line, or - for standard input")
    command.add_argument("--aim", choices=list(AIMS), default="money")
    command.add_argument("--most-money", type=float, default=None, help="spend no more than this; what is worth least is not met")
    command.set_defaults(act=holding)
    _add_alone(commands, alone)


def _add_alone(commands: Any, act: Callable) -> None:
    made = {name: commands.add_parser(name, help=says) for name, says in _SAYS.items()}
    for command in made.values():
        command.set_defaults(act=act)
    mix = made["tank"]
    mix.add_argument("--part", action="append", required=True, metavar="MATERIAL=RATE", help='such as "epsom_salt=10 kg/ha"')
    mix.add_argument("--way", choices=list(WAYS), default="leaf")
    for name, usual in (("area", "100 m2"), ("water", "400 L/ha"), ("tank", "15 L")):
        mix.add_argument(f"--{name}", default=usual)
    mix.add_argument("--ec", type=float, default=0.3, help="conductivity of the water, dS/m")
    mix.add_argument("--tender", action="store_true", help="the leaves are tender")
    water = made["acid"]
    for name, says in (("alkalinity", "mg/L as CaCO3"), ("ph", "pH of the water"), ("target", "wanted pH")):
        water.add_argument(f"--{name}", type=float, required=True, help=says)
    water.add_argument("--acid", default="citric")
    made["blend"].add_argument("--part", action="append", required=True, metavar="MATERIAL=PARTS")
    made["blend"].add_argument("--by", choices=["scoop", "weight"], default="weight")
    made["bale"].add_argument("material")
    made["bale"].add_argument("--bales", type=int, default=1)
    made["bale"].add_argument("--hay", action="store_true")
    leaf = made["topdress"]
    leaf.add_argument("crop")
    leaf.add_argument("--instrument", choices=list(get_args(Instrument)), default="eye")
    leaf.add_argument("--place", choices=list(PLACES), default="in time", help="where the crop stands")
    leaf.add_argument("--leaves", default="", help='panels of a card, such as "3 3.5 4"')
    for name, says in (("meter", "greenness meter on the crop"), ("strip", "the same on a rich strip"), ("value", "nitrate-nitrogen")):
        leaf.add_argument(f"--{name}", type=float, help=says)
    leaf.add_argument("--rule", default="", help="key of the card's rule, or stage of the sap's range")
    leaf.add_argument("--remaining", type=float, help="nitrogen that the season still needs, kg/ha")
    leaf.add_argument("--material", help="the dose in this material")
    made["programme"].add_argument("programme", nargs="?", help="its key; all of them are listed where none is given")
    made["programme"].add_argument("--start", type=date.fromisoformat, help="the day it counts from, as 2027-03-01")
    made["programme"].add_argument("--count", type=float, default=1.0, help="square metres, trees, pots or bales")


_SAYS = {
    "tank": "what goes into a tank, in which order, how often",
    "acid": "acid for hard water",
    "blend": "what a blend of materials holds and how it gives its nitrogen",
    "bale": "starting straw bales, day by day",
    "programme": "a ready programme on its days",
    "signs": "what the ground can show, for `untested`",
    "topdress": "nitrogen while the crop stands, from a leaf reading, or nothing",
}
