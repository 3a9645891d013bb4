"""The one family of errors of the core: each names the field, the value, the problem and how to mend it."""


class RuleError(ValueError):
    """Input that breaks a rule; `field` is a dotted path such as `plot.area` or `readings.2.value`."""

    def __init__(self, field: str, value: object, problem: str, mend: str):
        super().__init__(f"{field}: {problem}; {mend}")
        self.field, self.value, self.problem, self.mend = field, value, problem, mend

    def at(self, field: str) -> "RuleError":
        """The same error, said of another field (the caller knows where the value stood)."""
        return type(self)._made(self, field)

    def _made(self, field: str) -> "RuleError":
        return RuleError(field, self.value, self.problem, self.mend)

    def as_dict(self) -> dict[str, object]:
        value = self.value if isinstance(self.value, (int, float, str, bool, type(None))) else str(self.value)
        if isinstance(value, str) and len(value) > 80:
            value = value[:80] + "…"
        return {"field": self.field, "value": value, "problem": self.problem, "mend": self.mend}


class NotANumber(RuleError):
    """Text where a number was wanted."""


class UnknownUnit(RuleError):
    """A unit nobody uses, or one of the wrong kind."""


class OutOfRange(RuleError):
    """A number outside what can be."""


class UnknownName(RuleError):
    """A key that is in no table."""


class RequestError(ValueError):
    """All that is wrong with a request, gathered; `errors` is a list of RuleError."""

    def __init__(self, errors: list[RuleError]):
        super().__init__("; ".join(str(error) for error in errors))
        self.errors = errors


def check_range(field: str, value: float, *, low: float, high: float, unit: str = "", mend: str | None = None) -> float:
    """Return `value` [unit] if it lies in low..high (both included), else raise OutOfRange. Source: definition."""
    if low <= value <= high:
        return value
    shown = f" {unit}" if unit and unit != "pH" else ""
    raise OutOfRange(
        field,
        value,
        f"{value:g}{shown} is outside {low:g} to {high:g}{shown}",
        mend or "check the number and its unit",
    )
