"""What a file holds, as its page shows it: a small file is looked over at once, a large one by the worker, outside of any request."""

from dataclasses import dataclass
from datetime import timedelta

from django.core.cache import caches
from django.utils import timezone

from agronomy.labfile import Line, Remark, effort
from agronomy.labfile.decode import kind_of
from web.readings.importing import Parsed, SlipKey, content_key, parsed
from web.readings.models import LabFile

BIG = 400_000  # bytes of text: about eight thousand rows, looked over in a second
WAITS = timedelta(minutes=1)  # for the worker; where none comes, the page does the work itself
MOST_PREVIEWED, MOST_DOUBTS, MOST_REMARKS = 8, 40, 20


@dataclass(frozen=True, slots=True)
class Digest:
    """A file as it is understood now, without its thousands of lines."""

    said: list[str]
    sheet: str
    sheets: list[str]
    questions: list
    notes: list
    keys: list[SlipKey]
    count: int
    preview: list[Line]
    doubtful: list[Line]
    doubts: int
    columns: list[tuple[str, str, int]]
    remarks: list[Remark]
    remark_count: int

    @property
    def samples(self) -> list[str]:
        return list(dict.fromkeys(name for name, *_ in self.keys))


def is_big(name: str, content: bytes) -> bool:
    """Whether a file is left to the worker. Raises RuleError for one that nobody needs to look at."""
    kind_of(content, name)
    return effort(content) > BIG


def digest_of(file: LabFile) -> Digest | None:
    """The file as its answers and corrections make it; None where the worker has to look at it first. Raises RuleError."""
    return caches["by_worker"].get(content_key(file)) if file.by_worker else digest(parsed(file))


def keep_digest(file: LabFile, made: Digest) -> None:
    """Keeps what the worker found for all processes that serve pages."""
    caches["by_worker"].set(content_key(file), made)


def is_forgotten(file: LabFile) -> bool:
    """Whether no worker has touched a file that waits for one."""
    return file.worked_at is not None and timezone.now() - file.worked_at > WAITS


def digest(made: Parsed) -> Digest:
    """The short of a parsed file."""
    found = made.understood
    preview: list = []
    for lines in made.groups.values():
        preview += lines[: MOST_PREVIEWED - len(preview)]
    return Digest(
        said=list(found.said),
        sheet=found.sheet.name,
        sheets=[sheet.name for sheet in found.sheets],
        questions=list(found.questions),
        notes=list(found.notes),
        keys=list(made.groups),
        count=made.count,
        preview=preview,
        doubtful=made.doubtful[:MOST_DOUBTS],
        doubts=len(made.doubtful),
        columns=_fixable_columns(made.doubtful),
        remarks=made.remarks[:MOST_REMARKS],
        remark_count=len(made.remarks),
    )


def _fixable_columns(doubtful: list[Line]) -> list[tuple[str, str, int]]:
    """Headings whose doubts would all be mended by the same unit: (heading, unit, how many)."""
    counts: dict[tuple[str, str], int] = {}
    for line in doubtful:
        if line.fix:
            counts[line.heading, line.fix] = counts.get((line.heading, line.fix), 0) + 1
    return [(heading, unit, count) for (heading, unit), count in counts.items() if count > 2]
