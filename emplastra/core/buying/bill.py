"""What plans take together, by product and part, priced, with its VOC. Sums of money are exact.

A price stands in a sheet for a size of tin; a part costs what its cheapest tin costs a litre. What nobody told is
named, and the sum is then at least so much.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from functools import cached_property

from ..product.sheet import Sheet
from ..product.voc import voc_of
from ..working import Unknown
from .amounts import Amount, FaceAsked, Paint, Supplied, Unsaid


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
    def untold(self) -> list[Unsaid]:
        """What cannot be said, each once for all faces that lack the same."""
        return list({(x.step.kind, x.step.product, x.unknown): x for x in self.unsaid}.values())

    @property
    def products(self) -> list[tuple[str, list[Row]]]:
        """[(product, its rows)] in the order in which they were first met."""
        found: dict[str, list[Row]] = {}
        for row in self.rows.values():
            found.setdefault(row.product, []).append(row)
        return list(found.items())


def sum_of(bills: Iterable[Bill]) -> Bill:
    """Bills added up; each stays as it is."""
    made = Bill()
    for bill in bills:
        _add(made, bill)
    return made


def _add(made: Bill, bill: Bill, times: float = 1.0) -> None:
    """A bill into another, so many times."""
    for row in bill.rows.values():
        _put(made, row, times)
    made.unsaid += bill.unsaid
    made.mixed_ml += bill.mixed_ml * times
    made.gun_ml += bill.gun_ml * times
    made.voc_g += bill.voc_g * times
    made.unpriced += [name for name in bill.unpriced if name not in made.unpriced]
    made.no_voc += [name for name in bill.no_voc if name not in made.no_voc]


def _put(made: Bill, row: Row, times: float = 1.0) -> None:
    """A row into a bill, so many times."""
    held = made.rows.get((row.product, row.part))
    if held is None:
        held = Row(row.product, row.part, 0.0, row.unit, 0.0, row.per_ml, by_mass=row.by_mass)
        made.rows[row.product, row.part] = held
    held.amount += row.amount * times
    held.steps += row.steps
    held.thousandths += round(row.amount * times * 1000) if row.unit == "mL" else 0
    held.grams = None if held.grams is None or row.grams is None else held.grams + row.grams * times


class Alike:
    """What faces take that are alike in all but size: worked out on one of them, its bill carried over to others."""

    def __init__(self, taken: Sequence[Amount], face: FaceAsked, sheets: Mapping[str, Sheet]) -> None:
        """taken: what the rest of a plan takes on a face; sheets: by product name."""
        self.taken, self.face = taken, face
        self._each = [(x, _bill_for(x, sheets)) for x in taken]

    @cached_property
    def paints(self) -> dict[str, Paint]:
        """The first paint of each product."""
        return {x.sheet.product: x for x in reversed(self.taken) if isinstance(x, Paint)}

    def bill(self, face: FaceAsked) -> Bill:
        """What is taken of a face that is alike."""
        made = Bill()
        for x, bill in self._each:
            _add(made, bill, x.times(self.face, face))
        return made


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


def _bill_for(each: Amount, sheets: Mapping[str, Sheet]) -> Bill:
    """What one step takes."""
    if isinstance(each, Unsaid):
        return Bill(unsaid=[each])
    return _paint(each) if isinstance(each, Paint) else _supplied(each, sheets.get(each.step.product))


def _paint(paint: Paint) -> Bill:
    sheet, name = paint.sheet, paint.sheet.product
    bill = Bill(mixed_ml=paint.mixed_ml, gun_ml=paint.gun_ml)
    for key, ml in paint.parts_ml().items():
        part = sheet.component(key)
        grams = None if part.density_g_ml is None else ml * part.density_g_ml
        per_ml = price_per_ml(sheet, key)
        _put(bill, Row(name, part.name, ml, "mL", grams, per_ml, 1, paint.by_mass))
        if per_ml is None:
            bill.unpriced = [name]
    voc = sheet.once(
        ("voc", paint.variant, paint.step.thinner_pct), lambda: voc_of(sheet, paint.variant, paint.step.thinner_pct)
    )
    if isinstance(voc, Unknown):
        bill.no_voc = [name]
    else:
        bill.voc_g = voc.plain_g_l * paint.gun_ml / 1000.0
    return bill


def _supplied(each: Supplied, sheet: Sheet | None) -> Bill:
    row, voc_g = _supply_row(each, sheet)
    return Bill(
        {(row.product, row.part): row},
        voc_g=voc_g or 0.0,
        unpriced=[row.product] if row.per_ml is None and row.unit else [],
        no_voc=[row.product] if voc_g is None and row.unit == "mL" else [],
    )


def _supply_row(each: Supplied, sheet: Sheet | None) -> tuple[Row, float | None]:
    """(its row, the VOC in it [g] or None where nobody told)."""
    product = each.step.product or each.what
    if sheet is None or sheet.lacks_ratio or each.unit != "mL":
        return Row(product, each.what, each.amount, each.unit, each.amount if each.unit == "g" else None, None, 1), None
    part, ml = sheet.parts(None)[0], each.amount
    grams = None if part.density_g_ml is None else ml * part.density_g_ml
    row = Row(product, part.name, ml, "mL", grams, price_per_ml(sheet, part.key), 1)
    return row, None if part.voc_g_l is None else part.voc_g_l * ml / 1000.0
