"""Results in running text: a mail, a pasted note, the text of a PDF. Pairs of name and number, line by line, become a long table.

A line with more than one number that could be the result is kept as it stands: nothing is guessed from running text.
"""

import email
import email.policy
import re

from agronomy.base.errors import RuleError
from agronomy.labfile.days import parse_date
from agronomy.labfile.layers import LAYER
from agronomy.labfile.media import is_another, titled_medium
from agronomy.labfile.words import ADMIN, Lexicon, heading_key, plain, unit_in

HEAD = ("Sample", "Determination", "Result", "Unit", "Method", "Rating", "Sampling date", "Depth")
LONGEST_LINE, LONGEST_DEPTH, LONGEST_DAY = 2000, 60, 90
_NUMBER = r"[<>≤≥~]?\s*+\d[\d.,'\u00a0\u202f]*+(?:\s*+[-–]\s*+\d[\d.,]*+)?"
_SAMPLE_LINE = re.compile(
    r"^\s*(?P<word>[^\d:=]{2,40}?)\s*(?:[:=]|\s{2,})\s*[\"“„«]?(?P<name>[^\"”“»:=]{1,60}?)[\"”“»]?(?:\s{2,}.*|\s*\(.*|\s*,.*)?$"
)
_AROUND = '\ufeff \t>*•·-–"'
_QUOTED = re.compile(r"\b(?P<word>\w{4,14})\s+[\"“„«](?P<name>[^\"”“»]{1,60})[\"”“»]")
_NAMED = re.compile(r"\b(?:for|of|from)\s+(?:the\s+|your\s+)?sample\s+(?P<name>[A-Z0-9][\w' ./-]{0,40}?)\s*(?:[(,.:;]|$)")
_RATING = re.compile(
    r"(?:\b(?:index|klasse|class|gehaltsklasse|stufe|status|rating|niveau|classe|clase|nivel)\b\s*+[:=]?\s*+)([\w+-]{1,12})", re.IGNORECASE
)
_TABLE = re.compile(r"<t[dh][^<>]*+>[^<>]*\d", re.IGNORECASE)
_METHOD_NUMBERS = re.compile(  # numbers that belong to a method's name
    r"\b1\s*:\s*\d(?:[.,]\d)?\b|\b0[.,]0\d+\s*m\b|\b(?:mehlich|bray|morgan)\s*+-?\s*+p?\d\b|\bm3\b|\bp[12]o5\b|\bk2o\b", re.IGNORECASE
)


def text_of_mail(content: bytes) -> str:
    """The plain text of a mail, with its subject on top; markup is taken off where there is nothing else.

    Raises RuleError for one that is broken: nested without end, in an alphabet that does not exist, packed wrongly.
    """
    try:
        message = email.message_from_bytes(content, policy=email.policy.default)
        body = message.get_body(preferencelist=("plain", "html"))
        text = body.get_content() if body is not None else ""
        subject = message.get("subject", "")
    except Exception:  # a broken mail lets many kinds through
        raise RuleError("file", "the mail", "this mail is broken", "paste its text, or ask for a spreadsheet") from None
    if body is not None and body.get_content_type() == "text/html":
        text = re.sub(r"<(?:br|/p|/tr|/div|/li)[^<>]*>", "\n", text, flags=re.I)
        text = re.sub(r"<[^<>]+>", " ", text).replace("&nbsp;", " ").replace("&lt;", "<").replace("&gt;", ">").replace("&amp;", "&")
    return f"{subject}\n\n{text}"


def html_of_mail(content: bytes) -> str:
    """The HTML of a mail where it holds a table with figures; "" where it doesn't, or the mail is broken. Source: definition.

    >>> html_of_mail(b"Subject: x\\n\\npH 6.2")
    ''
    """
    try:
        message = email.message_from_bytes(content, policy=email.policy.default)
        body = message.get_body(preferencelist=("html",))
        text = body.get_content() if body is not None else ""
    except Exception:  # a broken mail lets many kinds through, and is told as broken where its text is read
        return ""
    return text if _TABLE.search(text) else ""


def is_mail(content: bytes, name: str) -> bool:
    """Whether a file is a mail, by its name or its head lines."""
    head = content[:2000].decode("latin-1").lower()
    return name.lower().endswith(".eml") or ("\nsubject:" in f"\n{head}" and "\nfrom:" in f"\n{head}" and "content-type:" in head)


def table_of(text: str, lexicon: Lexicon) -> tuple[tuple[str, ...], ...] | None:
    """The rows of a long table out of running text, or None where it holds no pair of a name and a number.

    Lines that make no reading come along as rows of one cell, so that none is lost.
    """
    sample, depth, titled, found = "", "", "", 0
    of_all = {"depth": ""}  # what is told before any sample holds for every one
    days = (
        parse_date(line) or parse_date(line, "mdy")
        for line in text.split("\n")
        if len(line) <= LONGEST_DAY and lexicon.is_of_sampling(line)
    )
    taken = next((day.isoformat() for day in days if day), "")
    rows: list[tuple[str, ...]] = [HEAD]
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    told = (titled_medium((line.strip(_AROUND),), lexicon) for line in lines if len(line) <= LONGEST_LINE)
    has_own_title = any(medium and not is_another(medium, lexicon) for medium in told)  # what stands above it is of another medium
    for line in lines:
        line = line.strip(_AROUND)
        if not line:
            continue
        if len(line) > LONGEST_LINE:  # nobody writes a result so; it is shown as a line that was not read
            rows.append((line,))
            continue
        titled = titled_medium((line,), lexicon) or titled
        if is_another(titled, lexicon) or (has_own_title and not titled):
            rows.append((line,))
            continue
        named = _sample_in(line, lexicon)
        made = _reading(line, lexicon)
        layer = _depth_in(line, lexicon)
        if layer:
            depth = layer
            if not sample:
                of_all["depth"] = layer
            rows.append((line,))
            continue
        if made is None and named:
            own = LAYER.search(line)  # "Sample: S-1, 0-30 cm"
            sample, depth = named, own.group(0) if own else of_all["depth"]
        if made is None:
            rows.append((line,))
            continue
        found += 1
        rows.append((sample, *made, taken, depth))
    return tuple(rows) if found else None


def _depth_in(line: str, lexicon: Lexicon) -> str:
    """The layer that a line gives: "Depth: 0-20 cm", "Tiefe 0-30 cm"; nothing for any other line."""
    found = LAYER.search(line)
    if found is None or len(line) > LONGEST_DEPTH:
        return ""
    return found.group(0) if lexicon.kind_of(line[: found.start()].strip(" :=-\t")) == "depth" else ""


def _sample_in(line: str, lexicon: Lexicon) -> str:
    """The name of a sample that a line gives: "Sample: Rose bed", "Probe „Garten“", "for sample Rose bed"."""
    if (quoted := _QUOTED.search(line)) and lexicon.kind_of(quoted.group("word")) == "sample":
        return quoted.group("name").strip()
    head = re.split(r"\s{3,}", line)[0]
    if (told := _SAMPLE_LINE.match(head)) and lexicon.kind_of(told.group("word")) == "sample":
        return told.group("name").strip()
    if named := _NAMED.search(line):
        return named.group("name").strip()
    return ""


def _reading(line: str, lexicon: Lexicon) -> tuple[str, str, str, str, str] | None:
    """Name, number, unit, method and rating of a line that holds one result; None for any other."""
    name, rest = _parted(line, lexicon)
    if not name:
        return None
    said = lexicon.heading(name)
    method = f"{name} {rest}"
    rating = ""
    if found := _RATING.search(rest):
        rating, rest = found.group(1), rest[: found.start()] + " " + rest[found.end() :]
    bare = _METHOD_NUMBERS.sub(" ", re.sub(r"\([^()]*\)", _without_remark, rest))
    number = re.match(r"\s*+[:=]?\s*+(" + _NUMBER + r")\s*+(.*)$", bare, re.DOTALL)
    if not number:
        return None
    behind = number.group(2)
    unit = unit_in(behind) or unit_in(name) or unit_in(rest) or ""
    left = re.sub(r"(?<=[a-z])-\d|/\s*100\s*g|/\s*1000\s*g|1000 ft2|dm3|cm3|m3\b", " ", behind)
    if re.search(r"\d", left):
        return None  # another number stands on the line: which is the result?
    words = plain(left).split(" ")
    if not rating and words[-1:] and lexicon.is_a("ratings", words[-1]):
        rating = words[-1]
    value = re.sub(r"\s+", "", number.group(1)).rstrip(".,")
    told = unit if said.analyte != "pH" else ""
    return name.strip(" :="), value, told, method[:120], rating


def _without_remark(found: re.Match[str]) -> str:
    """What stands in brackets goes, unless it ends in a decimal number: "(Mehlich 3)" is a remark, "(6.2)" the result."""
    return found[0] if re.search(r"\d[.,]\d+$", found[0].strip("() ")) else " "


def _parted(line: str, lexicon: Lexicon) -> tuple[str, str]:
    """The name at the start of a line and what comes behind it; "" where the line begins with no name we know."""
    for mark in (":", "=", "\t", "  "):
        for place in [found.start() for found in re.finditer(re.escape(mark), line)][:3]:
            name, rest = line[:place], line[place + len(mark) :]
            if _is_name(name, lexicon) and re.search(r"\d", rest):
                return name, rest
    words = line.split(" ")
    for length in range(min(len(words) - 1, 6), 0, -1):
        name, rest = " ".join(words[:length]), " ".join(words[length:])
        if _is_name(name, lexicon) and re.match(r"\s*+(?:\([^)]*+\)\s*+)?(?:is|of|was|ist|=|:)?\s*+[<>≤≥~]?\s*+\d", rest):
            return name, re.sub(r"^\s*(?:is|of|was|ist)\s+", "", rest)
    return "", ""


def _is_name(text: str, lexicon: Lexicon) -> bool:
    said = lexicon.heading(text.strip())
    return bool(said.kind) and said.kind not in ADMIN and bool(heading_key(text))
