"""The rake: readings of a plot as teeth, the wanted range of each one straight band across all of them.

Pure shapes for the SVG templates; nothing here knows the database.
"""

from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from agronomy.model.finding import Finding

ORDER = ("pH", "P", "K", "Mg", "Ca", "S", "OM")
FINE = ("Zn", "Mn", "Fe", "Cu", "B", "Mo", "EC", "Na")  # the teeth of the fine rake: trace elements, salt and sodium
LABELS = {"OM": "humus", "EC": "salt"}

TOOTH_TOP, BAND_TOP, BAND_BOTTOM, HATCH_TOP, GROUND_BOTTOM = 62.0, 200.0, 240.0, 280.0, 330.0
LEFT, STEP, TOOTH_HALF = 104.0, 74.0, 7.0


def at(value: float) -> str:
    """A coordinate as text: always with a decimal point, whatever the language of the page.

    >>> at(62.0), at(7.25)
    ('62', '7.2')
    """
    return f"{value:.1f}".removesuffix(".0")


@dataclass(frozen=True, slots=True)
class Tooth:
    """One tooth: a pointed bar from the rake's head to the reading, a fork for its error, dashes to where the plan leads."""

    label: str
    x: str
    points: str
    kind: str  # short, right, over: drawn apart by fill and by outline
    fork: str
    dashes: str
    arrow: str
    value: str
    value_y: str
    says: str


@dataclass(frozen=True, slots=True)
class Rake:
    """All shapes of one rake in its own coordinates."""

    width: str
    height: str
    head_width: str
    handle_x: str
    band_top: str
    band_height: str
    hatch_top: str
    hatch_height: str
    ground_top: str
    ground_height: str
    teeth: tuple[Tooth, ...]
    says: str


def depth_of(value: float, wanted: tuple[float, float], scale: tuple[float, float]) -> float:
    """How far down a value hangs: straight lines between the head, the band's edges and the ground of too much.

    >>> depth_of(6.2, (6.2, 7.0), (4.2, 7.8)), depth_of(7.8, (6.2, 7.0), (4.2, 7.8)), depth_of(99.0, (6.2, 7.0), (4.2, 7.8))
    (200.0, 280.0, 326.0)
    """
    marks = ((scale[0], TOOTH_TOP + 14), (wanted[0], BAND_TOP), (wanted[1], BAND_BOTTOM), (scale[1], HATCH_TOP))
    if value <= marks[0][0]:
        return marks[0][1]
    for (low, top), (high, bottom) in pairwise(marks):
        if value <= high:
            return round(top + (bottom - top) * (value - low) / (high - low), 1) if high > low else bottom
    beyond = (value - scale[1]) / max(scale[1] - wanted[1], 1e-9)
    return round(min(GROUND_BOTTOM - 4, HATCH_TOP + beyond * (HATCH_TOP - BAND_BOTTOM)), 1)


def kind_of(finding: Finding) -> str:
    if finding.class_ == "right":
        return "right"
    return "over" if finding.is_plenty or finding.class_ in ("too_alkaline", "salty", "too_salty", "sodium_rising", "sodic") else "short"


def shown(value: float) -> str:
    return f"{value:.0f}" if value >= 10 else f"{value:.1f}"


def _in_order(findings: list[Finding], order: tuple[str, ...] = ORDER) -> list[Finding]:
    return sorted((finding for finding in findings if finding.analyte in order), key=lambda finding: order.index(finding.analyte))


def rake(findings: list[Finding], class_words: dict[str, str], order: tuple[str, ...] = ORDER) -> Rake | None:
    """The rake for some findings, its teeth those of `order` (ORDER, or FINE for the fine rake); None where there is nothing to hang."""
    hung = _in_order(findings, order)
    if not hung:
        return None
    teeth = tuple(_tooth(finding, LEFT + STEP * place, class_words) for place, finding in enumerate(hung))
    head_width = STEP * len(hung)
    return Rake(
        width=at(LEFT + head_width + 6),
        height=at(392.0),
        head_width=at(head_width),
        handle_x=at(LEFT - STEP / 2 + head_width / 2 - 9),
        band_top=at(BAND_TOP),
        band_height=at(BAND_BOTTOM - BAND_TOP),
        hatch_top=at(HATCH_TOP),
        hatch_height=at(GROUND_BOTTOM - HATCH_TOP),
        ground_top=at(TOOTH_TOP),
        ground_height=at(GROUND_BOTTOM - TOOTH_TOP),
        teeth=teeth,
        says="; ".join(tooth.says for tooth in teeth),
    )


def _tooth(finding: Finding, x: float, class_words: dict[str, str]) -> Tooth:
    tip, low, high = (depth_of(value, finding.wanted, finding.scale) for value in (finding.value, finding.low, finding.high))
    label = LABELS.get(finding.analyte, finding.analyte.removeprefix("leaf "))
    expected = None if finding.expected is None else depth_of(finding.expected, finding.wanted, finding.scale)
    fork_x = x + TOOTH_HALF + 9
    return Tooth(
        label=label,
        x=at(x),
        points=(
            f"{x - TOOTH_HALF},{TOOTH_TOP - 6} {x + TOOTH_HALF},{TOOTH_TOP - 6} {x + TOOTH_HALF - 1},{tip - 9} {x},{tip} "
            f"{x - TOOTH_HALF + 1},{tip - 9}"
        ),
        kind=kind_of(finding),
        fork=f"M{fork_x - 5},{low} h10 M{fork_x},{low} V{high} M{fork_x - 5},{high} h10",
        dashes=f"M{x},{tip + 3} V{expected}" if expected is not None else "",
        arrow=f"M{x - 6},{expected - 7} L{x},{expected} L{x + 6},{expected - 7}" if expected is not None else "",
        value=finding.qualifier or shown(finding.value),
        value_y=at(354.0),
        says=f"{finding.name} {shown(finding.value)}{'' if finding.unit == 'pH' else ' ' + finding.unit}: {class_words[finding.class_]}",
    )


@dataclass(frozen=True, slots=True)
class SmallTooth:
    """A tooth of the small rake."""

    x: str
    length: str
    kind: str


@dataclass(frozen=True)
class SmallRake:
    """The rake as a mark for lists, 38 units high."""

    width: str
    teeth: tuple[SmallTooth, ...]

    @cached_property
    def drawn(self) -> SafeString:
        """Ground, band, head and teeth as SVG: a page has hundreds of teeth, and as many turns of a template's loop take a third of it."""
        teeth = format_html_join(
            "",
            '<rect class="tooth tooth--{}" x="{}" y="8" width="3.600" height="{}"/>',
            ((tooth.kind, tooth.x, tooth.length) for tooth in self.teeth),
        )
        return format_html(
            '<rect class="rake__band" x="0" y="22.500" width="{0}" height="4.200"/>'
            '<rect class="rake__head" x="0" y="3" width="{0}" height="5"/>{1}',
            self.width,
            teeth,
        )


SMALL_STEP, SMALL_LENGTH = 9.0, 28.0


def small_rake(findings: list[Finding]) -> SmallRake | None:
    """The small rake for some findings; None where there is nothing to hang."""
    hung = _in_order(findings)
    if not hung:
        return None
    teeth = []
    for place, finding in enumerate(hung):
        depth = depth_of(finding.value, finding.wanted, finding.scale)
        length = round((depth - TOOTH_TOP) / (GROUND_BOTTOM - TOOTH_TOP) * SMALL_LENGTH, 1)
        teeth.append(SmallTooth(at(4.0 + SMALL_STEP * place), at(length), kind_of(finding)))
    return SmallRake(at(SMALL_STEP * len(hung) + 2), tuple(teeth))
