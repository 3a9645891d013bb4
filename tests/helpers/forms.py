"""What a browser would send by a button of a page: all fields of the form that the button stands in, as they are set there."""

from html.parser import HTMLParser


class _Forms(HTMLParser):
    """The forms of a page: their addresses, the fields with their values, and the buttons with where they send."""

    def __init__(self):
        super().__init__()
        self.forms: list[dict] = []
        self.asked: list[str] = []  # what htmx posts to, with or without a button
        self._select: tuple[str, list] | None = None
        self._button: dict | None = None
        self._area: str | None = None

    def handle_starttag(self, tag, pairs):
        about = dict(pairs)
        if tag == "form":
            form = {"action": about.get("action") or "", "posts": about.get("method") == "post", "fields": {}, "buttons": []}
            self.forms.append(form)
        if "hx-post" in about:
            self.asked.append(about["hx-post"] or "")
        if not self.forms:
            return
        form, name = self.forms[-1], about.get("name")
        if tag == "input" and name and (about.get("type") not in ("checkbox", "radio") or "checked" in about):
            form["fields"][name] = about.get("value") or ""
        elif tag == "select" and name:
            self._select = (name, [])
        elif tag == "option" and self._select:
            self._select[1].append((about.get("value", ""), "selected" in about))
        elif tag == "textarea" and name:
            self._area = name
            form["fields"][name] = ""
        elif tag == "button" and about.get("type", "submit") == "submit":
            self._button = {"text": "", "name": name, "value": about.get("value", ""), "action": about.get("formaction", form["action"])}
            form["buttons"].append(self._button)

    def handle_endtag(self, tag):
        if tag == "select" and self._select:
            name, options = self._select
            chosen = [value for value, is_chosen in options if is_chosen]
            if options:
                self.forms[-1]["fields"][name] = chosen[0] if chosen else options[0][0]
            self._select = None
        elif tag == "button":
            self._button = None
        elif tag == "textarea":
            self._area = None

    def handle_data(self, data):
        if self._button is not None:
            self._button["text"] += data
        elif self._area is not None:
            self.forms[-1]["fields"][self._area] += data


def sent_by(page: str, button: str, **typed: str) -> tuple[str, dict[str, str]]:
    """The address ("" for the page's own) and what is posted there when a button is pressed after some fields were set."""
    reader = _Forms()
    reader.feed(page)
    for form in reader.forms:
        for one in form["buttons"]:
            if button in " ".join(one["text"].split()):
                pressed = {one["name"]: one["value"]} if one["name"] else {}
                return one["action"], form["fields"] | typed | pressed
    raise AssertionError(f"there is no button “{button}”")


def posted_by(page: str) -> list[str]:
    """Every address that a page posts to ("" for its own): by a button of a form, or by htmx."""
    reader = _Forms()
    reader.feed(page)
    return [button["action"] for form in reader.forms if form["posts"] for button in form["buttons"]] + reader.asked
