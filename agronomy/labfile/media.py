"""Which medium a row of a file is of, where one file tells of several: a cell that says so, or a line over a table."""

from agronomy.labfile.words import Lexicon, plain

# a mix for pots is read with the soil's headings, and with the material's where that was asked for
READ_AS = {"medium_soil": ("soil",), "medium_water": ("water",), "medium_leaf": ("leaf",), "medium_material": ("material", "soil")}
LONGEST_TITLE = 80


def said_medium(text: str, lexicon: Lexicon) -> str:
    """The kind of medium that a cell names by itself; "" where it names none. Source: definition.

    >>> from agronomy.intake.example import tables
    >>> said_medium("Water", Lexicon(tables, "soil")), said_medium("Water Lane", Lexicon(tables, "soil"))
    ('medium_water', '')
    """
    told = plain(text)
    return next((kind for kind in READ_AS if told in lexicon.words[kind]), "") if told else ""


def titled_medium(row: tuple[str, ...], lexicon: Lexicon) -> str:
    """The kind of medium that a line over a table names after its dash or colon: "Report - Irrigation water". Source: definition.

    >>> from agronomy.intake.example import tables
    >>> titled_medium(("Certificate of analysis - Irrigation water",), Lexicon(tables, "soil"))
    'medium_water'
    """
    filled = [cell for cell in row if cell]
    if len(filled) != 1 or len(filled[0]) > LONGEST_TITLE:
        return ""
    pieces = filled[0].replace(":", " - ").replace("–", "-").split(" - ")
    if len(pieces) < 2:
        return ""
    words = plain(pieces[-1]).split(" ")
    waters = any(word in lexicon.words["medium_water"] for word in words)
    if waters and any(word.startswith(tuple(lexicon.words["irrigation_stems"])) for word in words):  # "Apă de irigație", in whatever form
        return "medium_water"
    return said_medium(pieces[-1], lexicon)


def is_another(kind: str, lexicon: Lexicon) -> bool:
    """Whether a medium is not the one that is read now. Source: definition."""
    return bool(kind) and lexicon.medium not in READ_AS[kind]
