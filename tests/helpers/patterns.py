"""Every regular expression of the program, found by walking its modules, and text on which it would grow worse than in a line."""

import ast
import builtins
import importlib
import inspect
import pkgutil
import re
import time
from collections.abc import Iterator
from dataclasses import dataclass
from re import _constants as opcodes
from re import _parser

ACTS = ("search", "match", "fullmatch", "sub", "subn", "split", "findall", "finditer")
BEHIND = ("\x00", "")  # what comes behind a stutter: what no pattern takes, and nothing


@dataclass(frozen=True)
class Found:
    """A pattern as one place uses it: where, by which of `re`'s functions, and the compiled pattern."""

    where: str
    act: str
    pattern: re.Pattern

    def cpu_s(self, text: str) -> float:
        """Processor time of one use on a text."""
        given = text.encode("latin-1", "replace") if isinstance(self.pattern.pattern, bytes) else text
        began = time.process_time()
        if self.act in ("sub", "subn"):
            getattr(self.pattern, self.act)(given[:0], given)
        elif self.act == "finditer":
            list(self.pattern.finditer(given))
        else:
            getattr(self.pattern, self.act)(given)
        return time.process_time() - began


def patterns_of(*packages: str) -> Iterator[Found]:
    """All of some packages: compiled ones by every use in their own module, and those written where they are used."""
    for package in packages:
        for info in pkgutil.walk_packages(importlib.import_module(package).__path__, f"{package}."):
            if ".migrations" not in info.name and not info.name.endswith("__main__"):
                yield from _in_module(importlib.import_module(info.name))


def _in_module(module) -> Iterator[Found]:
    try:
        tree = ast.parse(inspect.getsource(module))
    except OSError:
        return  # an empty __init__
    used = {
        node.value.id
        for node in ast.walk(tree)
        if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Name) and node.attr in ACTS
    }
    at_head = {
        node.value: node.targets[0].id
        for node in tree.body
        if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name) and isinstance(node.value, ast.Call)
    }
    for node in ast.walk(tree):
        if at_head.get(node) in used:
            continue  # found by its uses
        if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Attribute) and node.func.attr in (*ACTS, "compile")):
            continue
        where = f"{module.__name__}:{node.lineno}"
        owner = node.func.value
        if isinstance(owner, ast.Name) and owner.id == "re":
            flags = next((_value(word.value, module) for word in node.keywords if word.arg == "flags"), 0)
            if node.func.attr == "compile" and len(node.args) > 1:
                flags = _value(node.args[1], module)
            if node.func.attr != "compile" and len(node.args) > 2 and node.func.attr not in ("sub", "subn", "split"):
                flags = _value(node.args[2], module)
            yield Found(where, "search" if node.func.attr == "compile" else node.func.attr, re.compile(_value(node.args[0], module), flags))
        elif isinstance(pattern := _value(owner, module, known=False), re.Pattern):
            yield Found(where, node.func.attr, pattern)


def _value(node: ast.expr, module, known: bool = True):
    """What an expression of a module is worth by the module's own names; a local name in a pattern counts as a word."""
    names = {name: value for name, value in vars(module).items() if not name.startswith("__")}
    local = {part.id: "word" for part in ast.walk(node) if isinstance(part, ast.Name) and not hasattr(builtins, part.id)} if known else {}
    try:
        return eval(compile(ast.Expression(node), module.__name__, "eval"), {**local, **names})  # noqa: S307 -- our own source
    except (NameError, AttributeError, TypeError, KeyError):
        if known:
            raise
        return None


def stutters(pattern: re.Pattern, size: int) -> Iterator[str]:
    """Text of about `size` letters made of what the pattern itself repeats, behind what it asks for before that."""
    source = pattern.pattern
    tree = _parser.parse(source, pattern.flags & ~re.DEBUG)
    seen = set()
    for before, repeated in _repeats(tree, ""):
        for unit in dict.fromkeys((repeated, before + repeated, before)):
            if not unit:
                continue
            for head in dict.fromkeys((before, "")):
                for tail in BEHIND:
                    text = (head + unit * (size // len(unit) + 1))[:size] + tail
                    if text not in seen:
                        seen.add(text)
                        yield text


def _repeats(tree, before: str) -> Iterator[tuple[str, str]]:
    """Each part that may come often, as a sample of it, with a sample of what stands before it."""
    for kind, given in tree:
        inner = []
        if kind in (opcodes.MAX_REPEAT, opcodes.MIN_REPEAT, opcodes.POSSESSIVE_REPEAT):
            _, most, body = given
            if most > 1:
                for other in _choices(body):
                    yield before, other
            inner = [body]
        elif kind is opcodes.SUBPATTERN:
            inner = [given[-1]]
        elif kind is opcodes.BRANCH:
            inner = given[1]
        elif kind is opcodes.ATOMIC_GROUP:
            inner = [given]
        elif kind in (opcodes.ASSERT, opcodes.ASSERT_NOT):
            inner = [given[1]]
        for part in inner:
            yield from _repeats(part, before)
        before += _sample([(kind, given)])


def _choices(body) -> list[str]:
    """Samples of a part: of a set of letters one of each of its kinds, so that it also stutters with what comes before or behind."""
    if len(body) == 1 and body[0][0] is opcodes.IN:
        return list(dict.fromkeys(_sample([(opcodes.IN, [one])]) for one in body[0][1] if one[0] is not opcodes.NEGATE)) + [
            letter for letter in " 1a,." if _takes(body, letter)
        ]
    if len(body) == 1 and body[0][0] is opcodes.ANY:
        return list(" 1a,.")
    return [_sample(body)]


def _takes(body, letter: str) -> bool:
    for kind, given in body[0][1]:
        if kind is opcodes.NEGATE:
            return all(chr(one[1]) != letter for one in body[0][1] if one[0] is opcodes.LITERAL)
        if kind is opcodes.RANGE and given[0] <= ord(letter) <= given[1]:
            return True
        if kind is opcodes.CATEGORY and _CATEGORY.get(given) == letter:
            return True
    return False


_CATEGORY = {
    opcodes.CATEGORY_SPACE: " ",
    opcodes.CATEGORY_DIGIT: "1",
    opcodes.CATEGORY_WORD: "a",
    opcodes.CATEGORY_NOT_SPACE: "a",
    opcodes.CATEGORY_NOT_DIGIT: "a",
    opcodes.CATEGORY_NOT_WORD: " ",
}


def _sample(tree) -> str:
    """A short text that a parsed pattern takes, looking around left out."""
    text = ""
    for kind, given in tree:
        if kind is opcodes.LITERAL:
            text += chr(given)
        elif kind is opcodes.NOT_LITERAL:
            text += "a" if given != ord("a") else "b"
        elif kind is opcodes.ANY:
            text += "a"
        elif kind is opcodes.CATEGORY:
            text += _CATEGORY[given]
        elif kind is opcodes.RANGE:
            text += chr(given[0])
        elif kind is opcodes.IN:
            if given[0][0] is opcodes.NEGATE:
                text += next(letter for letter in "a1 ,\x01" if all(chr(one[1]) != letter for one in given if one[0] is opcodes.LITERAL))
            else:
                text += _sample(given[:1])
        elif kind is opcodes.BRANCH:
            text += _sample(given[1][0])
        elif kind is opcodes.SUBPATTERN:
            text += _sample(given[-1])
        elif kind is opcodes.ATOMIC_GROUP:
            text += _sample(given)
        elif kind in (opcodes.MAX_REPEAT, opcodes.MIN_REPEAT, opcodes.POSSESSIVE_REPEAT):
            text += _sample(given[2]) * max(given[0], 1)
    return text
