"""Layers of the ground as laboratories write them: "0-20 cm", "0 - 6 in", "0-30 см"."""

import re

_INCHES = ("in", "inch", "inches", '"', "″", "po", "pouces", "pol", "pulg", "zoll", "tum", "дюйм", "дюймов")
_CENTIMETRES = ("cm", "см", "厘米", "センチ", r"ס\"מ", "ס״מ", "סמ", "سم", "εκ")
LAYER_UNITS = "|".join((*_CENTIMETRES, *sorted(_INCHES, key=len, reverse=True)))
LAYER = re.compile(
    r"(?<![\d.,/-])(\d{1,3}(?:[.,]\d+)?\s*(?:-|–|to|bis|a|à)\s*\d{1,3}(?:[.,]\d+)?)\s*(" + LAYER_UNITS + r")(?![a-zа-я])", re.IGNORECASE
)

_IN_CENTIMETRES, _IN_INCHES = (re.compile(rf"(?<!\w)(?:{'|'.join(units)})(?!\w)", re.IGNORECASE) for units in (_CENTIMETRES, _INCHES))


def unit_over(heading: str) -> str:
    """The unit of the layers below a heading, "cm" or "in"; centimetres where it names none, or both ("Tiefe in cm").

    >>> unit_over("Depth (in)"), unit_over("Tiefe in cm"), unit_over("Depth")
    ('in', 'cm', 'cm')
    """
    return "in" if _IN_INCHES.search(heading) and not _IN_CENTIMETRES.search(heading) else "cm"


def layer_in_name(name: str) -> tuple[float, float] | None:
    """The layer [cm] that a sample's name ends with.

    >>> layer_in_name("Bed 7 (0-20 cm)"), layer_in_name("Bed 7")
    ((0.0, 20.0), None)
    """
    found = LAYER.search(name)
    if not found or name[found.end() :].strip(" ).]"):
        return None
    return layer_of(found.group(1), found.group(2))


def layer_of(text: str, unit: str) -> tuple[float, float] | None:
    """Top and bottom [cm] of a layer such as "0-15"; None where it is none.

    >>> layer_of("0-30", "cm"), layer_of("0 - 6", "in"), layer_of("top", "cm")
    ((0.0, 30.0), (0.0, 15.24), None)
    """
    numbers = re.fullmatch(
        r"\s*(\d+(?:[.,]\d+)?)\s*(?:-|–|to|bis|a|à)\s*(\d+(?:[.,]\d+)?)\s*+(" + LAYER_UNITS + r")?\.?\s*+", text.strip(), re.IGNORECASE
    )
    if not numbers:
        return None
    unit = numbers.group(3) or unit
    times = 2.54 if unit.lower() in _INCHES else 1.0
    top, bottom = (round(float(part.replace(",", ".")) * times, 2) for part in numbers.groups()[:2])
    return (top, bottom) if 0 <= top < bottom <= 300 else None
