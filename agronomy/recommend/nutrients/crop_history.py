"""What the crops that stood before leave of nitrogen, by the crop history itself."""

from datetime import date

from agronomy.base.required import required
from agronomy.base.said import say
from agronomy.base.working import Figure, Step
from agronomy.model.credit import Credit, CreditSource
from agronomy.model.harvest import Harvest
from agronomy.recommend.nutrients.years import years_between
from agronomy.tables import Tables

KEY = "history"
COUNTS_FOR_YEARS = 2


def by_history(
    harvests: tuple[Harvest, ...], gifts: tuple[CreditSource, ...], crop_from: date, tables: Tables, *, is_counted: bool
) -> list[Credit]:
    """The nitrogen [kg/ha] of the last legume that stood here, as a line of its own; none where its owner tells of a legume himself.

    Source: n-legumes.

    >>> from agronomy.intake.example import tables
    >>> by_history((), (), date(2027, 3, 1), tables, is_counted=True)
    []
    """
    rows = tables.nitrogen.legume_crops
    stood = [
        item for item in harvests if item.crop.key in rows and item.on <= crop_from and years_between(item.on, crop_from) < COUNTS_FOR_YEARS
    ]
    if not stood or any(gift.kind == "legume" for gift in gifts):
        return []
    last = max(stood, key=lambda item: item.on)
    lines = legume_credit(KEY, rows[last.crop.key].legume, last.on, crop_from, is_counted=is_counted, tables=tables)
    return [line for line in lines if line.kg_per_ha > 0]


def legume_credit(
    key: str, legume: str | None, on: date | None, crop_from: date, *, is_counted: bool, tables: Tables, name: str = ""
) -> list[Credit]:
    """What a legume that ended on a day leaves for this crop [kg N/ha]. Source: n-legumes.

    >>> from agronomy.intake.example import tables
    >>> legume_credit("0", "soybean", date(2026, 10, 1), date(2027, 5, 1), is_counted=True, tables=tables)[0].kg_per_ha
    35.0
    """
    row = tables.nitrogen.legumes[required(legume)]
    year = years_between(on, crop_from) if on else 0
    share = (1.0, row.second_year_share)[year] if year < COUNTS_FOR_YEARS else 0.0
    step = Step(
        "left by the legume",
        "guide figure × share of this year",
        {"guide figure": Figure(row.kg_per_ha, "kg/ha"), "share of this year": Figure(share, "fraction")},
        Figure(row.kg_per_ha * share, "kg/ha"),
        row.source,
        row.where,
    )
    second = say("The second crop after it: half is left.") if share else say("Nothing is left by the second crop.")
    why = (say("The first crop after it."), second)[year] if year < COUNTS_FOR_YEARS else say("It is too long ago.")
    return [
        Credit(
            key=key,
            nutrient="N",
            name=name or row.name,
            kg_per_ha=row.kg_per_ha * share,
            low=row.low * share,
            high=row.high * share,
            counted=is_counted,
            why=why,
            working=(step,),
        )
    ]
