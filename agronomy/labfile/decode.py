"""From the bytes of a laboratory's file to text or tables: what it is, in which encoding, and what is refused."""

import json

from charset_normalizer import from_bytes

from agronomy.base.errors import RuleError
from agronomy.labfile.codepages import code_page
from agronomy.labfile.effort import zip_items

BIGGEST_BYTES = 25_000_000
BIGGEST_UNPACKED = 150_000_000
STEEPEST_PACKING = 200
_BOMS = ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"))
PICTURE = "type the figures in, or ask the laboratory for a spreadsheet, a mail or a PDF with text"
_BINARY_STARTS = {
    b"\xd0\xcf\x11\xe0": ("a workbook of the old binary kind", "save it as .xlsx or CSV"),
    b"\x89PNG": ("a picture", PICTURE),
    b"\xff\xd8\xff": ("a picture", PICTURE),
    b"GIF8": ("a picture", PICTURE),
    b"\x7fELF": ("a program", "send the laboratory's file"),
    b"MZ": ("a program", "send the laboratory's file"),
    b"\x1f\x8b": ("a packed file", "unpack it first"),
}
_SAMPLE = 60_000


def kind_of(content: bytes, name: str) -> str:
    """What the file is: xlsx, pdf, json or text. Raises RuleError for what is empty, too large, binary or a bomb."""
    if not content.strip(b" \t\r\n\x00\xef\xbb\xbf"):
        raise RuleError("file", name, "the file is empty", "send the file with the results")
    if len(content) > BIGGEST_BYTES:
        raise RuleError(
            "file",
            name,
            f"the file has {len(content) / 1e6:.0f} MB, more than {BIGGEST_BYTES // 1_000_000} MB",
            "part it, or send the results only",
        )
    for start, (what, mend) in _BINARY_STARTS.items():
        if content.startswith(start):
            raise RuleError("file", name, f"this is {what}, which can't be read here", mend)
    if content.startswith(b"%PDF"):
        return "pdf"
    if content.startswith(b"PK\x03\x04"):
        _check_zip(content, name)
        return "xlsx"
    bare = content.lstrip(b"\xef\xbb\xbf \t\r\n")
    if bare.startswith(b"<?xml") and b"<html" not in bare[:2000].lower():
        return "xml"
    return "json" if bare[:1] in (b"{", b"[") and _is_json(content) else "text"


def _is_json(content: bytes) -> bool:
    try:
        json.loads(content.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError):
        return False
    return True


def _check_zip(content: bytes, name: str) -> None:
    items = zip_items(content)
    if items is None:
        raise RuleError("file", name, "the workbook is broken", "save it again, or save it as CSV")
    size, packed = sum(item.file_size for item in items), sum(item.compress_size for item in items)
    if size > BIGGEST_UNPACKED or (size > 20_000_000 and size > STEEPEST_PACKING * max(packed, 1)):
        raise RuleError(
            "file",
            name,
            f"the workbook unpacks to {size / 1e6:.0f} MB, far more than results need",
            "save the sheet with the results as CSV",
        )
    if not any(item.filename.endswith("workbook.xml") for item in items):
        raise RuleError("file", name, "this zip file is no workbook", "unpack it and send the file inside")


def text_of(content: bytes, name: str) -> tuple[str, str]:
    """The text and the name of its encoding. Raises RuleError for bytes that are no text in any common encoding."""
    for bom, encoding in _BOMS:
        if content.startswith(bom):
            return _decoded(content, encoding, name), encoding
    if content[:400].count(b"\x00") > len(content[:400]) // 4:
        encoding = "utf-16-le" if content[1:2] == b"\x00" else "utf-16-be"
        return _decoded(content, encoding, name), encoding
    if b"\x00" in content[:_SAMPLE]:
        raise RuleError("file", name, "this is not a text file", "send CSV, text, XLSX or JSON")
    try:
        return content.decode("utf-8"), "utf-8"
    except UnicodeDecodeError:
        pass
    encoding = code_page(content[:_SAMPLE] if len(content) > _SAMPLE else content, _legacy(content))
    text = content.decode(encoding, "replace")
    if sum(character < " " and character not in "\t\r\n\x0b\x0c" for character in text[:_SAMPLE]) > len(text[:_SAMPLE]) // 20:
        raise RuleError("file", name, "this is not a text file", "send CSV, text, XLSX or JSON")
    return text, encoding


def _decoded(content: bytes, encoding: str, name: str) -> str:
    try:
        return content.decode(encoding)
    except UnicodeDecodeError:
        raise RuleError("file", name, f"the text is broken (it says {encoding})", "save it again as UTF-8") from None


def _legacy(content: bytes) -> str:
    """One of the encodings that laboratories' programs still write. Western ones are told apart by which letters make words."""
    letters = set(content) - set(range(128))
    if letters and letters <= set(
        b"\x81\x84\x94\x8e\x99\x9a\xe1\x82\x85\x87\x8a\x90\xa0\xa1\xa2\xa3\xa4\xa5\xe6\xf8\x97\x8b\x93\x96\x83\x88\x8c"
    ):
        return "cp850"
    if letters & set(range(0x80, 0xA0)) or letters <= set(
        b"\xe4\xf6\xfc\xc4\xd6\xdc\xdf\xe9\xe8\xea\xe0\xe2\xe7\xee\xef\xf4\xfb\xf9\xf1\xed\xf3\xfa\xe1\xb5\xb0\xb2\xb3\xba\xa0\xc9\xc8"
    ):
        return "cp1252"
    best = from_bytes(content[:_SAMPLE]).best()
    return best.encoding if best else "cp1252"
