"""How much there is to read in a file, told before it is read: a few kilobytes of a workbook or a PDF may hold a great deal."""

import io
import zipfile
from typing import Any

MOST_PAGES = 200
# Measured on files of one kind and size: a byte of a workbook's XML takes half as long as one of plain text, one of a PDF's drawing more.
AS_TEXT = {"xlsx": 0.5, "pdf": 2.5}


def effort(content: bytes) -> float:
    """About how many bytes of plain text would take as long to read; a broken file takes none, for it is refused at once.

    >>> effort(b"pH,P" * 100), effort(b"PK" + bytes([3, 4]) + b"broken")
    (400.0, 0.0)
    """
    if content.startswith(b"PK\x03\x04"):
        return AS_TEXT["xlsx"] * sum(item.file_size for item in zip_items(content) or [])
    if content.startswith(b"%PDF"):
        return AS_TEXT["pdf"] * _drawn(content)
    return float(len(content))


def zip_items(content: bytes) -> list[zipfile.ZipInfo] | None:
    """What lies in a zip file, with its sizes; None where it is broken."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            return archive.infolist()
    except (zipfile.BadZipFile, OSError, NotImplementedError, RuntimeError):
        return None


def drawn_on(page: Any) -> int:
    """Bytes of drawing on a page of a PDF, unpacked; what is written on it comes out of them."""
    contents = page.get_contents()
    return 0 if contents is None else len(contents.get_data())


def _drawn(content: bytes) -> int:
    import pypdf  # only this kind of file needs it

    try:
        return sum(drawn_on(page) for page in pypdf.PdfReader(io.BytesIO(content)).pages[:MOST_PAGES])
    except Exception:  # a broken or locked PDF lets many kinds through
        return 0
