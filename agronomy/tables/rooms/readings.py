"""What is measured: analytes, extractants, units, errors, signs, classes of water."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Annotated, Literal

from agronomy.base.required import required
from agronomy.tables.columns import Key, Names, Parted, Within, Words
from agronomy.tables.reading_files import Csv
from agronomy.tables.row import Cited, Fault, rising

NOT_STATED = "not stated"


@dataclass(frozen=True, slots=True, kw_only=True)
class Extractant(Cited):
    """A method of measuring some analytes, and the names that laboratories give it; `reads_like` is the one whose tables serve it too.

    `like_bray`: its phosphorus stands on the scale that build-up and maintenance were made for.
    `fails_above_ph`: free lime uses up its acid from there on, and it reads low.
    """

    method: str
    analytes: Annotated[tuple[str, ...], Parted(), Names("analytes")]
    names: Annotated[tuple[str, ...], Parted("|")]
    reads_like: str | None
    like_bray: bool
    fails_above_ph: Annotated[float | None, Within(6, 9, "pH")]

    @property
    def fails_for(self) -> tuple[str, ...]:
        """The analytes that it reads low on free lime: not potassium, which no lime holds back."""
        return tuple(key for key in self.analytes if key != "K") if self.fails_above_ph is not None else ()


@dataclass(frozen=True, slots=True, kw_only=True)
class Analyte(Cited):
    """Something that is measured: its units, what is usual, what cannot be; `methods` come from the table of extractants, the usual one
    first.
    """

    key: str
    medium: Literal["soil", "water", "leaf", "material"]
    name: str
    base_unit: str
    oxide: str | None
    oxide_factor: Annotated[float | None, Within(1, 3, "kg oxide per kg")]
    mg_per_cmol: Annotated[float | None, Within(50, 500, "mg per cmol")]
    typical_low: Annotated[float, Within(0, 20_000, "base unit")]
    typical_high: Annotated[float, Within(0.5, 50_000, "base unit")]
    hard_low: Annotated[float, Within(0, 20, "base unit")]
    hard_high: Annotated[float, Within(2, 100_000, "base unit")]
    default_unit: str
    units: Words
    in_ledger: bool
    methods: tuple[str, ...] = field(default=(), metadata={"column": False})

    def faults(self) -> Iterator[Fault]:
        yield from rising(self, "hard_low", "typical_low", "typical_high", "hard_high")
        if self.default_unit not in self.units:
            yield Fault("default_unit", f"“{self.default_unit}” is not among its units", "add it to units, or name one of them")
        if (self.oxide is None) != (self.oxide_factor is None):
            yield Fault("oxide_factor", "an oxide and its factor go together", "give both, or neither")

    @property
    def per_cmol(self) -> float:
        """Weight of one cmol of its charge [mg]; raises LookupError for what carries none."""
        return required(self.mg_per_cmol)

    def with_methods(self, extractants: Iterable[Extractant]) -> "Analyte":
        """The analyte with its methods, in the order of the table, and last that none is stated."""
        return replace(self, methods=(*dict.fromkeys(row.method for row in extractants if self.key in row.analytes), NOT_STATED))


@dataclass(frozen=True, slots=True, kw_only=True)
class SpecialUnit(Cited):
    """A unit that is special to one analyte."""

    analyte: Annotated[str, Names("analytes")]
    unit: str
    factor: Annotated[float, Within(0.001, 1000, "base unit per unit")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PhMethod(Cited):
    """From a pH by one method to pH in water 1:1."""

    method: Annotated[str, Names("methods")]
    slope: Annotated[float, Within(0.5, 1.5, "pH per pH")]
    offset: Annotated[float, Within(-2, 2, "pH")]
    u: Annotated[float, Within(0, 1, "pH")]


@dataclass(frozen=True, slots=True, kw_only=True)
class ReadingError(Cited):
    """Error of a reading by how it was measured, and whether rates may follow from it."""

    analyte: str
    how: Literal["kit", "lab", "label", "leaf_card", "meter", "probe", "sampling", "sensor", "strip", "tissue"]
    error: Annotated[float, Within(0, 2, "fraction or base unit")]
    kind: Literal["cv", "u"]
    rates: Literal["yes", "half", "no"] | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Sign(Cited):
    """A sign on the ground and what it leans to."""

    key: Key
    question: Literal["colour", "feel", "growth", "history"]
    answer: str
    about: Annotated[str, Names("analytes")]
    leans: Literal["acid", "alkaline", "enough", "plenty", "short", "too much"]
    weight: Annotated[float, Within(0.5, 5, "weight")]
    says: str


@dataclass(frozen=True, slots=True, kw_only=True)
class TestPrice(Cited):
    """A measurement that would sharpen a plan: its price and time."""

    key: Key
    name: str
    price: Annotated[float, Within(0, 300, "money")]
    hours: Annotated[float, Within(0, 8, "h")]
    narrows: Words


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterClass(Cited):
    """A class of a water by one reading, up to a limit."""

    analyte: Annotated[str, Names("analytes")]
    below: Annotated[float | None, Within(0.01, 5000, "base unit")]
    word: str
    text: str
    asks: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LeafNote(Cited):
    """What to bear in mind with a reading of leaves."""

    analyte: Annotated[str, Names("analytes")]
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Readings:
    """What is measured: analytes, extractants, units, errors, signs, classes of water."""

    analytes: Annotated[Mapping[str, Analyte], Csv("analytes.csv", "key")]
    extractants: Annotated[tuple[Extractant, ...], Csv("extractants.csv")]
    special_units: Annotated[Mapping[tuple[str, str], SpecialUnit], Csv("special_units.csv", ("analyte", "unit"))]
    ph_methods: Annotated[Mapping[str, PhMethod], Csv("ph_methods.csv", "method")]
    reading_errors: Annotated[Mapping[tuple[str, str], ReadingError], Csv("reading_errors.csv", ("analyte", "how"))]
    signs: Annotated[Mapping[str, Sign], Csv("signs.csv", "key")]
    test_prices: Annotated[Mapping[str, TestPrice], Csv("test_prices.csv", "key")]
    water_classes: Annotated[tuple[WaterClass, ...], Csv("water_classes.csv")]
    leaf_notes: Annotated[Mapping[str, LeafNote], Csv("leaf_notes.csv", "analyte")]

    def is_like_bray(self, method: str) -> bool:
        """Whether a method's phosphorus stands on the scale that build-up and maintenance were made for."""
        return any(row.like_bray for row in self.extractants if row.method == method and "P" in row.analytes)
