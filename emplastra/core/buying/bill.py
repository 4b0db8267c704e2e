"""What plans take together, by product and part, priced, with its VOC. Sums of money are exact.

A price stands in a sheet for a size of tin; a part costs what its cheapest tin costs a litre. What nobody told is
named, and the sum is then at least so much.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction

from ..product.sheet import Sheet
from ..product.voc import voc_of
from ..working import Unknown
from .amounts import Amount, Paint, Supplied, Unsaid


@dataclass
class Row:
    """So much of one part of a product [mL], or of what leaves no film [unit].

    thousandths: of a mL, whole; per_ml: its price, None where none is told; grams: what it weighs, None where no
    density is told; steps: how many steps take it.
    """

    product: str
    part: str
    amount: float = 0.0
    unit: str = "mL"
    grams: float | None = 0.0
    per_ml: Fraction | None = None
    steps: int = 0
    by_mass: bool = False
    thousandths: int = 0

    @property
    def cost(self) -> Fraction | None:
        """What it costs, exact; None where no price is told."""
        return None if self.per_ml is None else Fraction(self.thousandths, 1000) * self.per_ml


@dataclass
class Bill:
    """Rows by product and part, what cannot be said, and sums: litres mixed [mL], VOC [g], cost.

    unpriced: products of which no price is told; no_voc: those of which no VOC is.
    """

    rows: dict[tuple[str, str], Row] = field(default_factory=dict)
    unsaid: list[Unsaid] = field(default_factory=list)
    mixed_ml: float = 0.0
    gun_ml: float = 0.0
    voc_g: float = 0.0
    unpriced: list[str] = field(default_factory=list)
    no_voc: list[str] = field(default_factory=list)

    @property
    def cost(self) -> Fraction:
        """What all that is priced costs."""
        return sum((cost for row in self.rows.values() if (cost := row.cost) is not None), Fraction(0))

    @property
    def costs_at_least(self) -> bool:
        """True if something has no price, or cannot be worked out."""
        return bool(self.unpriced or self.unsaid)

    @property
    def products(self) -> list[tuple[str, list[Row]]]:
        """[(product, its rows)] in the order in which they were first met."""
        found: dict[str, list[Row]] = {}
        for row in self.rows.values():
            found.setdefault(row.product, []).append(row)
        return list(found.items())


def sum_of(bills: Iterable[Bill]) -> Bill:
    """Bills added up; each stays as it is."""
    made, unpriced, no_voc = Bill(), dict[str, None](), dict[str, None]()
    for bill in bills:
        for key, row in bill.rows.items():
            _into(made.rows, key, row)
        made.unsaid += bill.unsaid
        made.mixed_ml += bill.mixed_ml
        made.gun_ml += bill.gun_ml
        made.voc_g += bill.voc_g
        unpriced |= dict.fromkeys(bill.unpriced)
        no_voc |= dict.fromkeys(bill.no_voc)
    made.unpriced, made.no_voc = list(unpriced), list(no_voc)
    return made


def _into(rows: dict[tuple[str, str], Row], key: tuple[str, str], row: Row) -> None:
    held = rows.get(key)
    if held is None:
        rows[key] = replace(row)
        return
    held.amount += row.amount
    held.steps += row.steps
    held.thousandths += row.thousandths
    held.grams = None if held.grams is None or row.grams is None else held.grams + row.grams


def price_per_ml(sheet: Sheet | None, component: str) -> Fraction | None:
    """Price of a mL of a component by its cheapest tin, exact; None where no tin of it has a price."""
    if sheet is None:
        return None
    found: Fraction | None = sheet.once(("price", component), lambda: _price(sheet, component))
    return found


def _price(sheet: Sheet, component: str) -> Fraction | None:
    prices = [
        Fraction(str(tin.price)) / Fraction(str(tin.ml))
        for tin in sheet.tins
        if tin.component == component and tin.price is not None
    ]
    return min(prices, default=None)


def bill_of(taken: Iterable[Amount], sheets: Mapping[str, Sheet]) -> Bill:
    """All that steps take, added up; sheets: by product name."""
    bill = Bill()
    for each in taken:
        if isinstance(each, Unsaid):
            bill.unsaid.append(each)
        elif isinstance(each, Paint):
            _paint(bill, each)
        else:
            _supplied(bill, each, sheets.get(each.step.product))
    return bill


def _paint(bill: Bill, paint: Paint) -> None:
    sheet, name = paint.sheet, paint.sheet.product
    bill.mixed_ml += paint.mixed_ml
    bill.gun_ml += paint.gun_ml
    for key, ml in paint.parts_ml().items():
        part = sheet.component(key)
        grams = None if part.density_g_ml is None else ml * part.density_g_ml
        per_ml = price_per_ml(sheet, key)
        row = Row(name, part.name, ml, "mL", grams, per_ml, 1, paint.by_mass, round(ml * 1000))
        _into(bill.rows, (name, part.name), row)
        if per_ml is None and name not in bill.unpriced:
            bill.unpriced.append(name)
    voc = sheet.once(
        ("voc", paint.variant, paint.step.thinner_pct), lambda: voc_of(sheet, paint.variant, paint.step.thinner_pct)
    )
    if not isinstance(voc, Unknown):
        bill.voc_g += voc.plain_g_l * paint.gun_ml / 1000.0
    elif name not in bill.no_voc:
        bill.no_voc.append(name)


def _supplied(bill: Bill, each: Supplied, sheet: Sheet | None) -> None:
    row, voc_g = _supply_row(each, sheet)
    _into(bill.rows, (row.product, row.part), row)
    bill.voc_g += voc_g or 0.0
    if row.per_ml is None and row.unit and row.product not in bill.unpriced:
        bill.unpriced.append(row.product)
    if voc_g is None and row.unit == "mL" and row.product not in bill.no_voc:
        bill.no_voc.append(row.product)


def _supply_row(each: Supplied, sheet: Sheet | None) -> tuple[Row, float | None]:
    """(its row, the VOC in it [g] or None where nobody told)."""
    product = each.step.product or each.what
    if sheet is None or sheet.lacks_ratio or each.unit != "mL":
        return Row(product, each.what, each.amount, each.unit, each.amount if each.unit == "g" else None, None, 1), None
    part, ml = sheet.parts(None)[0], each.amount
    grams = None if part.density_g_ml is None else ml * part.density_g_ml
    row = Row(product, part.name, ml, "mL", grams, price_per_ml(sheet, part.key), 1, False, round(ml * 1000))
    return row, None if part.voc_g_l is None else part.voc_g_l * ml / 1000.0
