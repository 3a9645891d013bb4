"""What has to be bought for all that is meant to be put on: in whole bags, by supplier, with the last day to order."""

import csv
from collections.abc import Iterable
from datetime import date

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone

from agronomy.base import showing
from agronomy.products.buying import Purchase, Use, purchases
from agronomy.products.packs import pack_for
from web.core import tables
from web.supplies.stock import stock_of
from web.supplies.wanted import wanted
from web.words import day, plain_cell


def purchases_of(holding) -> list[Purchase]:
    """All that is meant to be put on and is not in the shed, as it is bought."""
    return bought(holding, wanted(holding))


def bought(holding, uses: Iterable[Use]) -> list[Purchase]:
    """Some uses as this holding buys them: the shed first, then offers, else the form that the amount is bought in."""
    stock = stock_of(holding.pk)
    return purchases(
        uses,
        stock.lines(),
        stock.bag_sizes(),
        tables().materials,
        stock.offers,
        lambda kg, material: pack_for(kg, material, tuple(holding.equipment), tables()),
    )


def buying(request):
    rows, place, today = purchases_of(request.place.holding), request.place, timezone.localdate()
    groups: dict[str, list[dict]] = {}
    for row in rows:
        groups.setdefault(row.supplier if row.bags else "", []).append(told(row, place, today))
    total = sum(row.cost for row in rows)
    by_supplier = [
        (name, lines, _sum(rows, name, place)) for name, lines in sorted(groups.items(), key=lambda pair: (not pair[0], pair[0]))
    ]
    late = any(row.order_by and row.order_by < today for row in rows)
    context = {"groups": by_supplier, "total": f"{place.holding.currency}{total:.2f}" if total else "", "late": late}
    return render(request, "supplies/buying.html", context)


def _sum(rows: list[Purchase], supplier: str, place) -> str:
    cost = sum(row.cost for row in rows if row.bags and row.supplier == supplier)
    return f"{place.holding.currency}{cost:.2f}" if cost else ""


def told(row: Purchase, place, today: date) -> dict:
    """A line of the list in the words and units of the reader."""

    def mass(kg: float) -> str:
        return showing.mass(kg, place.units, 3) if kg > 1e-6 else "–"

    bags = f"{row.bags}{_form(row)} of {mass(row.bag_kg)}" if row.bags else "none"
    cost = f"{place.holding.currency}{row.cost:.2f}" if row.cost else ""
    late = row.order_by is not None and row.order_by < today
    return {
        "name": row.name,
        "needed": mass(row.needed_kg),
        "shed": mass(row.from_shed_kg),
        "bags": bags,
        "left": mass(row.left_over_kg),
        "cost": cost,
        "is_list_price": row.is_list_price,
        "plots": ", ".join(row.plots),
        "buy": row.bags > 0,
        "order_by": day(row.order_by, year=True) if row.order_by else "",
        "late": late,
    }


def _form(row: Purchase) -> str:
    """What a piece is, where it is no bag."""
    pack = tables().spread.packs.get(row.form)
    return f" {pack.one if row.bags == 1 else pack.many}" if pack else ""


def buying_csv(request):
    response = HttpResponse(content_type="text/csv; charset=utf-8", headers={"Content-Disposition": 'attachment; filename="buying.csv"'})
    writer = csv.writer(response)
    writer.writerow(
        [
            "material",
            "needed_kg",
            "from_shed_kg",
            "bags",
            "bag_kg",
            "left_over_kg",
            "cost",
            "supplier",
            "order_by",
            "plots",
            "form",
        ]
    )
    for row in purchases_of(request.place.holding):
        writer.writerow(
            [
                row.name,
                f"{row.needed_kg:.4g}",
                f"{row.from_shed_kg:.4g}",
                row.bags,
                f"{row.bag_kg:g}",
                f"{row.left_over_kg:.4g}",
                f"{row.cost:.2f}",
                plain_cell(row.supplier),
                row.order_by or "",
                plain_cell("; ".join(row.plots)),
                row.form,
            ]
        )
    return response
