"""The tables of an HTML page or mail as rows of cells; what spans rows or columns stands in each of them."""

from html.parser import HTMLParser

MOST_SPAN = 60  # no heading spans more, and a foreign file may say a million


def rows_of_html(html: str) -> list[tuple[str, ...]]:
    """Every row of every table, and each line between them as a row of one cell, in the page's order. Source: definition.

    >>> rows_of_html("<p>Report</p><table><tr><th rowspan=2>Field<th>P<tr><th>mg/kg<tr><td>A1<td>12</table>")
    [('Report',), ('Field', 'P'), ('Field', 'mg/kg'), ('A1', '12')]
    """
    reader = _Reader()
    reader.feed(html)
    reader.close()
    reader.end_row()
    reader.end_line()
    return reader.rows


class _Reader(HTMLParser):
    BREAKS = frozenset({"p", "br", "div", "h1", "h2", "h3", "h4", "li", "blockquote", "table", "tbody", "thead"})

    def __init__(self) -> None:
        super().__init__(convert_charrefs=True)
        self.rows: list[tuple[str, ...]] = []
        self.line: list[str] = []
        self.cells: list[tuple[str, int, int]] | None = None  # of the row being read: text, columns, rows that it spans
        self.cell: list[str] | None = None
        self.spans = (1, 1)
        self.hanging: dict[int, tuple[str, int]] = {}  # by column: what hangs down from above, for how many rows more
        self.hidden = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        if tag in ("script", "style", "head"):
            self.hidden += 1
        elif tag == "table":
            self.end_line()
            self.hanging = {}
        elif tag == "tr":
            self.end_row()
            self.end_line()
            self.cells = []
        elif tag in ("td", "th") and self.cells is not None:
            self.end_cell()
            told = dict(attrs)
            self.cell, self.spans = [], (_span(told.get("colspan")), _span(told.get("rowspan")))
        elif tag in self.BREAKS and self.cells is None:
            self.end_line()
        elif tag == "br" and self.cell is not None:
            self.cell.append(" ")

    def handle_endtag(self, tag: str) -> None:
        if tag in ("script", "style", "head"):
            self.hidden = max(0, self.hidden - 1)
        elif tag in ("td", "th"):
            self.end_cell()
        elif tag in ("tr", "table"):
            self.end_row()
        elif tag in self.BREAKS and self.cells is None:
            self.end_line()

    def handle_data(self, data: str) -> None:
        if self.hidden:
            return
        if self.cell is not None:
            self.cell.append(data)
        elif self.cells is None:
            self.line.append(data)

    def end_cell(self) -> None:
        if self.cell is not None and self.cells is not None:
            self.cells.append((" ".join("".join(self.cell).split()), *self.spans))
        self.cell = None

    def end_row(self) -> None:
        self.end_cell()
        if self.cells is None:
            return
        row: list[str] = []
        told = iter(self.cells)
        hanging: dict[int, tuple[str, int]] = {}
        item = next(told, None)
        while item is not None or any(place >= len(row) for place in self.hanging):
            place = len(row)
            if place in self.hanging:
                text, left = self.hanging[place]
                row.append(text)
                if left > 1:
                    hanging[place] = (text, left - 1)
            elif item is not None:
                text, columns, rows = item
                for number in range(columns):
                    row.append(text)
                    if rows > 1:
                        hanging[place + number] = (text, rows - 1)
                item = next(told, None)
            else:
                row.append("")
        self.cells, self.hanging = None, hanging
        self.rows.append(tuple(row))

    def end_line(self) -> None:
        text = " ".join("".join(self.line).split())
        self.line = []
        if text:
            self.rows.append((text,))


def _span(told: str | None) -> int:
    return min(max(int(told), 1), MOST_SPAN) if told is not None and told.strip().isdecimal() else 1
