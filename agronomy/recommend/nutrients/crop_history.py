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
COUNTS_FOR_YEARS = 3
TOLD = ("legume", "crop_before", "green_manure")


def by_history(
    harvests: tuple[Harvest, ...], gifts: tuple[CreditSource, ...], crop_from: date, tables: Tables, *, is_counted: bool
) -> list[Credit]:
    """The nitrogen [kg/ha] that the last crop here leaves, as a line of its own; none where its owner tells himself what stood before.

    Source: n-legumes; n-crops-before.

    >>> from agronomy.intake.example import tables
    >>> by_history((), (), date(2027, 3, 1), tables, is_counted=True)
    []
    """
    rows = tables.nitrogen.what_crops_leave
    stood = [
        item for item in harvests if item.crop.key in rows and item.on <= crop_from and years_between(item.on, crop_from) < COUNTS_FOR_YEARS
    ]
    if not stood or any(gift.kind in TOLD for gift in gifts):
        return []
    last = max(stood, key=lambda item: item.on)
    lines = credit_of_crop_before(KEY, rows[last.crop.key].leaves, last.on, crop_from, is_counted=is_counted, tables=tables)
    return [line for line in lines if line.kg_per_ha > 0]


def credit_of_crop_before(
    key: str, before: str | None, on: date | None, crop_from: date, *, is_counted: bool, tables: Tables, name: str = ""
) -> list[Credit]:
    """What a crop that ended on a day leaves for this crop [kg N/ha]. Source: n-legumes; n-crops-before.

    >>> from agronomy.intake.example import tables
    >>> credit_of_crop_before("0", "soybean", date(2026, 10, 1), date(2027, 5, 1), is_counted=True, tables=tables)[0].kg_per_ha
    35.0
    """
    row = tables.nitrogen.crops_before[required(before)]
    year = years_between(on, crop_from) if on else 0
    share = row.share(year)
    step = Step(
        "left by the crop before",
        "guide figure × share of this year",
        {"guide figure": Figure(row.kg_per_ha, "kg/ha"), "share of this year": Figure(share, "fraction")},
        Figure(row.kg_per_ha * share, "kg/ha"),
        row.source,
        row.where,
    )
    is_too_late = on is not None and on > crop_from
    if is_too_late:
        why = say("Not counted: it ended after this crop was planted.")
    elif not share:
        why = say("Nothing of it is left by now.")
    elif not year:
        why = say("The first crop after it.")
    else:
        why = say("Crop {number} after it: {share:.0f} % of the first year’s nitrogen still comes.", number=year + 1, share=share * 100)
    return [
        Credit(
            key=key,
            nutrient="N",
            name=name or row.name,
            kg_per_ha=row.kg_per_ha * share,
            low=row.low * share,
            high=row.high * share,
            counted=is_counted and not is_too_late,
            why=why,
            working=(step,),
        )
    ]
