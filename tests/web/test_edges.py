"""What the state of a zone and the services decide at their edges, each with the least that it needs."""

from datetime import date
from types import SimpleNamespace as Told
from zoneinfo import ZoneInfo

from django.test import SimpleTestCase

from emplastra.accounts.models import Role, User
from emplastra.accounts.services import set_active
from emplastra.climate.services import note_reading
from emplastra.core.air.dewpoint import dew_point_c
from emplastra.core.piece.areas import ShapeError
from emplastra.core.product.film import Film
from emplastra.core.surface import events
from emplastra.core.surface.events import Access, Coated, FilmLost
from emplastra.core.surface.fold import Surface
from emplastra.core.surface.names import Loss
from emplastra.core.surface.patches import Layer, Patch
from emplastra.core.surface.plan import PlanStep, StepState
from emplastra.core.survey.answers import Answer
from emplastra.core.working import Basis
from emplastra.jobs.models import Zone
from emplastra.jobs.services import save_build_up
from emplastra.jobs.surveying import state as survey
from emplastra.logbook.models import Kind
from emplastra.shared import clock
from emplastra.shared.services import Refused, as_refused
from emplastra.state.faces import _coats_before, _shut_drains, _to_come_um, faces_of, happened
from emplastra.state.history import joined, masked, nights_of
from emplastra.state.joining import _said, _stack, why_not
from emplastra.state.lifeline import _metal_spans, _window_spans, clock_changes
from emplastra.state.needs import Takings, needs_of
from emplastra.state.selectors import lead_time_s
from emplastra.state.stack import span_of
from emplastra.store.services import name_batch
from tests.base import PASSWORD, ShopCase, utc, zone_state
from tests.rulings import sheet_of

H = 3600.0
FILM = Film(50.0, Basis.ASSUMED, "plan")
EPOXY, WAX = sheet_of("epoxy-primer"), sheet_of("cavity-wax")


def coat(t_s, share=1.0, step="p", entry=1, sheet=EPOXY):
    return Coated(t_s, t_s, share, step, entry, sheet, FILM, sheet.product)


def layer(sheet=EPOXY, share=1.0):
    return Layer("p", sheet.product, sheet, FILM, 0.0, 0.0, share)


class PastTests(SimpleTestCase):
    def test_a_spot_is_closed_by_a_whole_coat_after_its_last_act(self):
        """Its plan is done, its own last act at 5; the face was coated whole at 4, 5 or 6, in part at 6, or will be at 11."""
        spot = Told(plan=Told(next=None), facts=Told(events=[coat(5.0)]))
        for on_face, closed in (([coat(6.0)], True), ([coat(5.0)], True), ([coat(4.0)], False), ([coat(6.0, 0.5)], False), ([coat(11.0)], False), ([events.Degreased(6.0, 6.0)], False)):  # fmt: skip
            face = Told(surface=Told(t_s=10.0), facts=Told(events=on_face))
            self.assertEqual(joined(face, spot), closed, on_face)
        undone = Told(plan=Told(next="step"), facts=spot.facts)
        self.assertFalse(joined(Told(surface=Told(t_s=10.0), facts=Told(events=[coat(6.0)])), undone))

    def test_nights_outdoors_are_whole_ones_between_two_moments(self):
        nights = [(10.0, 20.0), (34.0, 44.0)]
        facts = Told(outdoors=Told(places={1}, nights=lambda a, b: nights))
        way = lambda *stays: Told(where=Told(stays=[Told(start_s=a, end_s=b, place=p) for a, b, p in stays]))  # noqa: E731
        for each, start, end, count in ((way((0, 50, 1)), 0, 50, 2), (way((10, 44, 1)), 10, 44, 2), (way((0, 50, 2)), 0, 50, 0), (way((11, 50, 1)), 0, 50, 1), (way((0, 19, 1), (19, 50, 2)), 0, 50, 0), (way((0, 50, 1)), 11, 50, 1), (way((0, 50, 1)), 0, 43, 1)):  # fmt: skip
            self.assertEqual(nights_of(each, facts, start, end), count)

    def test_masked_once_its_mask_is_done(self):
        steps = [PlanStep("m", "mask"), PlanStep("d", "degrease")]
        at = lambda step, t_s: Told(steps=steps, events=[events.Degreased(t_s, t_s, 1.0, step)])  # noqa: E731
        self.assertEqual([masked(at(s, t), 5.0) for s, t in (("m", 5.0), ("m", 6.0), ("d", 4.0))], [True, False, False])
        self.assertFalse(masked(Told(steps=[], events=at("m", 1.0).events), 5.0))

    def test_stacks_that_may_be_joined(self):
        part = Surface(0.0, patches=(Patch(0.4, bare_s=0.0), Patch(0.6, layers=(layer(),))))
        self.assertEqual([_said(_stack(s)) for s in (part, Surface(0.0, patches=(Patch(bare_s=0.0),)), Surface(0.0))], ["Test epoxy-primer", "bare metal", "nothing logged"])  # fmt: skip

    def test_what_was_logged_counts_for_the_plan_of_access(self):
        """A coat in portions once it is whole, a weld but no knock, nothing that is still to come."""
        each = Told(zone=Told(pk=7), events=[coat(1.0, 0.6, entry=1), coat(2.0, 0.4, entry=2), coat(3.0, 0.6, entry=3), FilmLost(4.0, 4.0, 0.1, "", 4, cause=Loss.WELD), FilmLost(5.0, 5.0, 0.1, "", 5, cause=Loss.KNOCK), Access(6.0, 6.0, 1.0, "", 6, how="closed", what="Sill"), coat(9.0, entry=9)])  # fmt: skip
        self.assertEqual([(str(h.kind), h.face, h.entry, h.what) for h in happened([each], 8.0)], [("coat", "7", 2, ""), ("weld", "7", 4, ""), ("close", "7", 6, "Sill")])  # fmt: skip

    def test_drains_and_films_that_a_closing_asks_of(self):
        told = {("drain", str(n)): Told(answer=Told(choice=choice), status=status) for n, (choice, status) in enumerate((("blocked", "open"), ("open", "open"), ("closed", "verified"), ("missing", "explained")))}  # fmt: skip
        self.assertEqual(_shut_drains(told | {("rust", ""): Told(answer=Told(choice="blocked"), status="open")}), ("0", "3"))  # fmt: skip
        steps = [StepState(PlanStep("a", "prime", "E", 2, 50.0), 1, 0.5), StepState(PlanStep("b", "surface", "S", 2, 60.0, sanded_um=20.0)), StepState(PlanStep("c", "prime", "E", 1, 50.0), 1, 0.0, True), StepState(PlanStep("d", "prime", "E", 1, 50.0, left_out="no"))]  # fmt: skip
        state = Told(plan=Told(states=steps), surface=Told(layers=(), bare=True))
        self.assertAlmostEqual(_to_come_um(state), 50.0 * 0.5 + 100.0)  # half a coat of two, and 2 × 60 less 20
        self.assertEqual(_coats_before(state), {"a": False, "b": True, "c": True, "d": True})


class DrawnTests(SimpleTestCase):
    def test_where_the_clock_is_put_on_and_back(self):
        """In Vienna on 29 March 2026 at 01:00 UTC to 03:00, on 25 October to 02:00."""

        def scale(text):
            start_s = utc(text).timestamp()
            return Told(start_s=start_s, end_s=start_s + 24 * H, x=lambda t_s: t_s)

        vienna = Told(zone=ZoneInfo("Europe/Vienna"))
        for day, said in (("2026-03-28T12:00", "clock on to 03:00"), ("2026-10-24T12:00", "clock back to 02:00"), ("2026-05-12T12:00", None)):  # fmt: skip
            self.assertEqual([words for _, words in clock_changes(scale(day), vienna)], [said] if said else [])

    def test_spans_of_windows_and_of_bare_metal(self):
        clock = lambda opens, closing, closes: Told(stretches=(), opens_s=opens, closing_s=closing, closes_s=closes)  # noqa: E731
        never = float("inf")
        for told, spans in (((2, 8, 10), [("waiting", 1, 2), ("open", 2, 8), ("closing", 8, 10), ("missed", 10, never)]), ((1, None, None), [("open", 1, never)]), ((None, None, 10), [("waiting", 1, 10), ("missed", 10, never)])):  # fmt: skip
            self.assertEqual(list(_window_spans(clock(*told), 1)), spans)
        for due, t_s, spans in ((5.0, 4.0, [("bare", 0.0, 5.0)]), (5.0, 6.0, [("bare", 0.0, 5.0), ("overdue", 5.0, 6.0)]), (None, 6.0, [("bare", 0.0, never)])):  # fmt: skip
            bare = Told(since_s=0.0, closes_s=due)
            state = Told(surface=Told(t_s=t_s, clock=lambda kind, bare=bare: bare if kind == "bare" else None))
            self.assertEqual(list(_metal_spans(state)), spans)

    def test_least_and_most_of_all_coats(self):
        sheet = sheet_of("enamel", film={"min_um": 30, "typical_um": 40, "max_um": 60, "coats": 1})
        self.assertEqual(span_of(PlanStep("a", "single-stage", "E", 3, 40.0), sheet), (90, 180))
        self.assertEqual(span_of(PlanStep("a", "single-stage", "E", 3, 40.0), None), (None, None))

    def test_the_time_to_mix_and_spray(self):
        """10 min to mix two parts, 2 to stir one, the wait of its sheet, 6 min a m²: common practice, no source."""
        mixed = sheet_of("epoxy-primer", "mixed", induction=[[0, 15], [40, 15]])
        for sheet, minutes in ((None, 2), (EPOXY, 2), (sheet_of("epoxy-primer", "mixed"), 10), (mixed, 25)):
            self.assertEqual(lead_time_s(sheet, 20.0, 2.0), 60.0 * (minutes + 12))


class ServiceTests(ShopCase):
    def test_a_later_use_by_fills_a_blank_one_and_no_other(self):
        name = lambda batch, day: name_batch(self.shop.primer, "base", batch, day).use_by  # noqa: E731
        first, second = date(2027, 1, 1), date(2028, 1, 1)
        self.assertEqual([name("A", None), name("A", first), name(" A ", second), name("A", None), name("B", second)], [None, first, first, first, second])  # fmt: skip

    def test_the_last_owner_stays(self):
        owner, mate = self.shop.people["owner"], self.shop.people["mate"]
        self.assertRaisesRegex(Refused, "last owner", set_active, owner, owner, False)
        set_active(owner, mate, False)
        set_active(owner, mate, True)
        other = User.objects.create_user("other", password=PASSWORD, role=Role.OWNER)
        set_active(owner, other, False)
        self.assertRaisesRegex(Refused, "last owner", set_active, owner, owner, False)
        set_active(owner, other, True)
        set_active(owner, owner, False)
        self.assertEqual(set(User.objects.filter(is_active=False)), {owner})

    def test_a_face_as_the_plan_of_access_knows_it(self):
        """A thin patch of wax is no wax on the face; what is done or passed over takes no paint any more."""
        self.shop.tell(Kind.BARED, -30, -29, "s-strip")
        self.shop.coat(-28, -27, 0.3)
        face = faces_of([zone_state(self.shop.zone)[0]])[str(self.shop.zone.pk)]
        self.assertEqual((face.coated, face.products, face.waxed), (False, frozenset(), False))
        self.shop.coat(-28, -27, 0.7)
        face = faces_of([zone_state(self.shop.zone)[0]])[str(self.shop.zone.pk)]
        self.assertEqual((face.coated, face.products), (True, frozenset({"epoxy-primer"})))
        one, _ = zone_state(self.shop.zone)
        steps = [{"id": "w", "kind": "degrease"}, {"id": "s-prime", "kind": "prime", "product": "Test primer", "coats": 2, "dft_um": 50, "method": "brush"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        again, _ = zone_state(self.shop.zone)
        self.assertEqual(
            [n.mixed_ml for n in needs_of(again, again.all.sheets) if hasattr(n, "mixed_ml")],
            [n.mixed_ml for n in needs_of(one, one.all.sheets) if hasattr(n, "mixed_ml")],
        )

    def test_metal_now_is_so_far_above_the_dew_point_and_its_fit_is_kept_for_a_minute(self):
        state, _ = zone_state(self.shop.zone)
        self.assertAlmostEqual(state.now.spread_k, state.now.temp_c - dew_point_c(20.0, 50.0), places=1)
        first = state.fit
        for seconds, same in ((30, True), (29, True), (2, False)):
            clock.advance(seconds=seconds)
            self.assertEqual(zone_state(self.shop.zone)[0].fit is first, same)

    def test_what_is_mixed_is_mixed_by_the_air_where_it_stands(self):
        """At 20 °C by the mild ratio, 4:1, at 10 by the cold one, 3:1. What is keyed already takes no disc."""
        steps = [{"id": "k", "kind": "abrade", "grit": "P80"}, {"id": "s-prime", "kind": "prime", "product": "Test primer", "coats": 1, "dft_um": 50, "method": "brush"}]  # fmt: skip
        save_build_up(self.shop.zone, self.shop.user, steps, 1)
        for air_c, share in ((20.0, 1 / 4), (10.0, 1 / 3)):
            clock.advance(hours=2)
            note_reading(self.shop.user, self.shop.place, clock.now(), air_c, 50)
            parts = next(dict(n.parts) for n in self.needs(self.shop.zone) if hasattr(n, "parts"))
            self.assertAlmostEqual(parts["Hardener"] / parts["Base"], share)
        kinds = [n.step.kind for n in self.needs(self.shop.zone)]
        self.shop.tell(Kind.KEYED, -1, -0.5, "k", grit="P80")
        self.assertEqual((kinds, [n.step.kind for n in self.needs(self.shop.zone)]), (["abrade", "prime"], ["prime"]))

    def needs(self, zone):
        state, _ = zone_state(zone)
        return Takings(state.all).alike(state.facts).taken

    def test_wax_that_smears_is_near_until_it_is_answered(self):
        waxed = lambda: faces_of([zone_state(self.shop.zone)[0]])[str(self.shop.zone.pk)].waxed  # noqa: E731
        self.assertFalse(waxed())
        survey(self.shop.zone, self.shop.user, "bared", [(Answer("wax", "", "smears", {}), "made-so")])
        self.assertTrue(waxed())

    def test_a_refusal_names_the_field_that_was_asked_or_its_own(self):
        for asked, named in (("shapes", "shapes"), ("", "length")):
            with self.assertRaises(Refused) as caught, as_refused(asked):
                raise ShapeError("length", "too long")
            self.assertEqual(caught.exception.field, named)

    def test_zones_with_a_spot_in_use_are_not_joined(self):
        other = self.shop.make_zone("Other")
        why = lambda: why_not(*(zone_state(zone)[0] for zone in (self.shop.zone, other)))  # noqa: E731
        self.assertEqual(why(), "")
        spot = Zone.objects.create(job=self.shop.job, name="Chip", parent=self.shop.zone)
        self.assertEqual(why(), "Cab side has a spot, or is one: close that first")
        self.assertIn("has a spot", why_not(zone_state(spot)[0], zone_state(other)[0]))
        for gone in ({"removed": True, "retired": ""}, {"removed": False, "retired": "joined"}):
            Zone.objects.filter(pk=spot.pk).update(**gone)
            self.assertEqual(why(), "")

    def test_what_the_bared_metal_showed_holds_over_what_was_found(self):
        for stage, choice in (("found", "smears"), ("bared", "no"), ("found", "smears")):
            clock.advance(minutes=1)
            survey(self.shop.zone, self.shop.user, stage, [(Answer("wax", "", choice, {}), "")])
        face = faces_of([zone_state(self.shop.zone)[0]])[str(self.shop.zone.pk)]
        self.assertFalse(face.waxed)
