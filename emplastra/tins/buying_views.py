"""Buying: what the open work wants less what stands in the store, in tins; what paint costs, and what was wasted."""

from django.shortcuts import render

from emplastra.core.buying.order import Aim
from emplastra.jobs.models import Job
from emplastra.say.book import book_of
from emplastra.say.tins import amount
from emplastra.shared.answers import table
from emplastra.state.buying import AIMS, costs_of, lines_of, waste_by_kind
from emplastra.state.needs import bills_of


def _asked(request):
    """(aim, whether kits stay whole) as asked for."""
    aim = Aim.WASTE if request.GET.get("aim") == Aim.WASTE else Aim.COST
    return aim, request.GET.get("kits") != "0"


def _open(request):
    """(facts, zones of open jobs)."""
    book = book_of(request)
    return book.facts, [book.facts.zones[pk] for pk in sorted(book.open_ids)]


def _tins(line, system):
    """[(how many, of what size, price of one or None)] of a line."""
    if line.kits:
        return [(many, f"kit of {_kit(kit, system)}", kit.price) for kit, many in line.kits]
    sizes = line.order.tins if line.order else ()
    return [(many, amount(float(size.ml), "mL", system), size.price) for size, many in sizes]


def _kit(kit, system):
    """A kit in words."""
    return " + ".join(amount(float(ml), "mL", system) for ml in (kit.base_ml, kit.hardener_ml))


def _priced(orders):
    """(what orders cost, True if something to buy has no price or no size)."""
    prices = [(many, price) for _, told in orders for many, _, price in told]
    sizeless = any(
        line.wanted_ml > 0 and not told and line.order is None and line.part.role != "hardener" for line, told in orders
    )
    cost = sum(many * price for many, price in prices if price is not None)
    return cost, sizeless or any(price is None for _, price in prices)


def buying(request):
    """What to buy, at the least cost or so that the least is left over."""
    (aim, kits), (facts, zones), system = _asked(request), _open(request), request.workshop.units
    bills = bills_of(facts, zones)
    lines, bill = lines_of(facts, bills, aim, request.workshop, kits)
    wanted = [line for line in lines if line.wanted_ml > 0]
    orders = [(line, _tins(line, system)) for line in lines]
    cost, at_least = _priced(orders)
    jobs = Job.objects.filter(pk__in={each.zone.job_id for each in zones})
    context = {
        "orders": orders,
        "wanted": len(wanted),
        "cost": cost,
        "at_least": at_least,
        "untold": bill.untold,
        "aim": aim,
        "aims": AIMS,
        "kits": kits,
        "costs": costs_of(facts, bills, jobs),
        "waste": waste_by_kind(),
        "inexact": not all(line.is_exact for line in lines),
    }
    return render(request, "tins/buying.html", context)


def order_csv(request):
    """The order list as a table."""
    (aim, kits), (facts, zones) = _asked(request), _open(request)
    lines, _ = lines_of(facts, bills_of(facts, zones), aim, request.workshop, kits)
    rows = [
        _ordered(line, *told, request.workshop.currency)
        for line in lines
        for told in _tins(line, request.workshop.units)
    ]
    return table("order", ("product", "part", "count", "size", "price of one", "price", "currency"), rows)


def _ordered(line, many, size, price, currency):
    """A line of the order list as cells."""
    told = ("", "") if price is None else (f"{float(price):.2f}", f"{float(price * many):.2f}")
    return (line.product, "kit" if line.kits else line.part.name, many, size, *told, currency)
