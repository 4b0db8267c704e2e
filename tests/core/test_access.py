"""Access: order and cycles against networkx, each rule against a case that changes when it is switched off."""

from dataclasses import replace

import networkx
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core.metal import access
from emplastra.core.metal.access import (
    KINDS,
    AccessError,
    Act,
    Face,
    Happened,
    Plan,
    columns,
    edges,
    logged,
    order,
    reach_now,
)
from emplastra.core.rules import access as access_rules
from emplastra.core.rules.access import verdicts
from emplastra.core.rules.registry import REGISTRY

OPEN = Act("o", "open", "Sill plate", ("in", "out"), done=True)
CLOSE = Act("c", "close", "Sill plate", ("in",))
WELD = Act("w", "weld", "Patch", ("in", "out"))
COAT = Act("p", "coat", "Inside", ("in",), ("w",))
BARE = {"in": Face("Sill, inside"), "out": Face("Sill, outside")}
PRIMED = frozenset({"weld-through-primer"})
LAPPED = {"in": Face("Sill, inside", products=PRIMED), "out": Face("Sill, outside", products=PRIMED)}

#: Rule -> a plan of which it has something to say. Common practice, no source.
CASES = {
    "hidden-uncoated": Plan((OPEN, CLOSE), BARE),
    "lap-primer": Plan((OPEN, WELD), BARE),
    "inside-first": Plan((OPEN, Act("q", "coat", "Outside", ("out",))), {"in": Face("Sill, inside", inner=True), "out": Face("Sill, outside")}),
    "weld-burns": Plan((OPEN, Act("w", "weld", "Patch", ("out",))), {"out": Face("Sill, outside", coated=True)}),
    "hot-near-wax": Plan((Act("w", "weld", "Patch", ("out",)),), {"out": Face("Sill, outside", waxed=True)}),
    "wet-sealer": Plan((Act("w", "weld", "Patch", ("out",)),), {"out": Face("Sill, outside", sealer_wet=True)}),
    "drain-shut": Plan((CLOSE,), {"in": Face("Sill, inside", coated=True, drains_closed=("1",))}),
    "gap": Plan((Act("f", "fit", "Door", ("out",), bare_um=300),), {"out": Face("Sill, outside", coated=True, film_um=310)}),
    "forced-fit": Plan((Act("f", "fit", "Door", ("out",)),), BARE),
    "fill-early": Plan((Act("l", "fill", "Skin", ("out",)), Act("t", "trial-fit", "Door", ("out",))), BARE),
    "trial-stays": Plan((Act("t", "trial-fit", "Door", ("in",)), CLOSE, COAT, WELD), LAPPED),
    "ring": Plan((Act("a", "weld", "A", ("out",), ("b",)), Act("b", "weld", "B", ("in",), ("a",))), LAPPED),
}  # fmt: skip


class LapTests(SimpleTestCase):
    def test_one_face_of_a_lap_primed_is_not_enough(self):
        for inside, outside, said in (
            (PRIMED, frozenset(), True),
            (frozenset(), PRIMED, True),
            (PRIMED, PRIMED, False),
        ):
            faces = {"in": Face("Sill, inside", products=inside), "out": Face("Sill, outside", products=outside)}
            self.assertEqual("lap-primer" in [v.rule for v in verdicts(Plan((OPEN, WELD), faces))], said)

    def test_inside_comes_first_unless_it_is_coated_or_its_coat_comes_before(self):
        outside, inside = Act("q", "coat", "Outside", ("out",), ("p",)), Act("p", "coat", "Inside", ("in",))
        faces = {"in": Face("Sill, inside", inner=True), "out": Face("Sill, outside")}
        for plan, said in (
            (Plan((OPEN, inside, outside), faces), False),
            (Plan((OPEN, replace(outside, after=())), {**faces, "in": replace(faces["in"], coated=True)}), False),
            (Plan((OPEN, replace(outside, after=()), inside), faces), True),
        ):
            self.assertEqual("inside-first" in [v.rule for v in verdicts(plan)], said)


class OneOrderTests(SimpleTestCase):
    def test_acts_still_to_come_stand_before_their_steps_in_their_order(self):
        weld = Act("w", "weld", "Patch", ("in", "out"), before=(("in", "s1"), ("out", "s9")))
        close = Act("c", "close", "Plate", ("in",), ("w",), before=(("in", "s1"),))
        found = access.come_before((close, weld, replace(weld, id="x", done=True)))
        self.assertEqual({f: {s: [a.id for a in acts] for s, acts in steps.items()} for f, steps in found.items()}, {"in": {"s1": ["w", "c"]}, "out": {"s9": ["w"]}})  # fmt: skip
        with self.assertRaises(AccessError) as caught:
            access.check([replace(close, after=(), before=(("out", "s1"),))])
        self.assertEqual(caught.exception.field, "faces")
        self.assertEqual(access.neighbours((close, weld), {"in"}), {"out"})
        self.assertEqual(access.neighbours((replace(weld, kind="coat"), close), {"in"}), set())


class GraphTests(SimpleTestCase):
    @settings(max_examples=120, deadline=None)
    @given(st.data())
    def test_order_and_cycles_are_those_of_networkx(self, data):
        n = data.draw(st.integers(1, 9))
        ids = [f"n{i}" for i in range(n)]
        faces = st.lists(st.sampled_from(["x", "y", "z"]), min_size=1, max_size=2, unique=True)
        acts = [
            Act(i, data.draw(st.sampled_from(list(KINDS))), i, tuple(data.draw(faces)), tuple(data.draw(st.lists(st.sampled_from([j for j in ids if j != i]), max_size=2, unique=True)) if n > 1 else ()))
            for i in ids
        ]  # fmt: skip
        graph = networkx.DiGraph(edges(acts))
        graph.add_nodes_from(ids)
        placed, rings = order(acts)
        at = {act.id: k for k, act in enumerate(placed)}
        self.assertTrue(all(at[a] < at[b] for a, b in graph.edges if a in at and b in at))
        self.assertEqual(networkx.is_directed_acyclic_graph(graph), not rings)
        if not rings:
            self.assertEqual(set(access.shown_edges(acts)), set(networkx.transitive_reduction(graph).edges))
        knots = [c for c in networkx.strongly_connected_components(graph) if len(c) > 1]
        waits = set().union(*(networkx.descendants(graph, k) | {k} for c in knots for k in c)) if knots else set()
        self.assertEqual({a.id for a in acts} - set(at), waits)
        for ring in rings:
            members = [a.id for a in ring]
            self.assertTrue(any(set(members) <= knot for knot in knots))
            self.assertTrue(all(graph.has_edge(a, b) for a, b in zip(members, [*members[1:], members[0]], strict=True)))
        self.assertEqual(sorted(a.id for stack in columns(acts) for a in stack), ids)

    def test_openings_come_before_and_closings_after_the_work_on_their_faces(self):
        placed, rings = order([CLOSE, COAT, WELD, OPEN])
        self.assertEqual(([a.id for a in placed], rings), (["o", "w", "p", "c"], []))
        self.assertEqual([[a.id for a in stack] for stack in columns([CLOSE, COAT, WELD, OPEN])], [["o"], ["w"], ["p"], ["c"]])  # fmt: skip
        self.assertEqual(reach_now(Plan((OPEN, CLOSE), BARE)), ["in"])
        self.assertEqual(reach_now(Plan((OPEN, Act("c", "close", "x", ("in",), done=True)), BARE)), [])

    def test_acts_that_cannot_be_are_named(self):
        table = [
            ("kind", Act("a", "paint", "x", ("in",))),
            ("what", Act("a", "open", " ")),
            ("faces", Act("a", "weld", "x")),
            ("after", Act("a", "open", "x", (), ("gone",))),
            ("after", Act("a", "open", "x", (), ("a",))),
        ]
        for field, act in table:
            with self.subTest(field), self.assertRaises(AccessError) as caught:
                access.check([act])
            self.assertEqual(caught.exception.field, field)


class LoggedTests(SimpleTestCase):
    """Opened, coated, welded, coated again, closed: what of it the log shows."""

    ACTS = (
        Act("o", "open", "Sill plate", ("in", "out"), added_s=100), Act("p", "coat", "Laps", ("in",), ("o",), added_s=100),
        Act("w", "weld", "Patch", ("in", "out"), ("p",), added_s=100), Act("q", "coat", "Again", ("in",), ("w",), added_s=100), Act("c", "close", "Sill plate", ("in",), added_s=100),
    )  # fmt: skip

    def done(self, *told, acts=ACTS):
        """Ids of acts that are done when (kind, faces, at, what) were logged."""
        happened = [Happened(kind, face, at, at, what) for kind, faces, at, what in told for face in faces.split("+")]
        return {a.id: a.entries for a in logged(acts, happened) if a.done}

    def test_an_act_is_done_once_its_entries_are_in_the_log(self):
        opened, coated, welded = ("open", "in+out", 110, ""), ("coat", "in", 120, ""), ("weld", "in+out", 130, "")
        table = [
            ("nothing", (), {}),
            ("opened at the moment it was planned", (("open", "in+out", 100, ""),), {"o": (100,)}),
            ("opened before it was planned", (("open", "in+out", 90, ""),), {}),
            ("opened on one of two faces", (("open", "in", 110, ""),), {}),
            ("opened by two entries", (("open", "in", 110, ""), ("open", "out", 115, "")), {"o": (110, 115)}),
            ("coated before it was opened", (("coat", "in", 105, ""), opened), {"o": (110,)}),
            ("opened and coated", (opened, coated), {"o": (110,), "p": (120,)}),
            ("the coat before the weld is not the one after it", (opened, coated, welded), {"o": (110,), "p": (120,), "w": (130,)}),
            ("coated twice before the weld", (opened, coated, ("coat", "in", 125, ""), welded), {"o": (110,), "p": (120,), "w": (130,)}),
            ("closed too", (opened, coated, welded, ("coat", "in", 140, ""), ("close", "in", 150, "plate")), {"o": (110,), "p": (120,), "w": (130,), "q": (140,), "c": (150,)}),
            ("closed without the coat", (opened, coated, welded, ("close", "in", 150, "")), {"o": (110,), "p": (120,), "w": (130,)}),
        ]  # fmt: skip
        for name, told, expected in table:
            with self.subTest(name):
                self.assertEqual(self.done(*told), expected)

    def test_an_entry_that_bears_its_name_is_taken_first_and_each_counts_once(self):
        doors = (Act("l", "open", "Door, left", ("in",)), Act("r", "open", "Door, right", ("in",)))
        self.assertEqual(
            self.done(("open", "in", 10, ""), ("open", "in", 20, "door, left"), acts=doors), {"l": (20,), "r": (10,)}
        )
        self.assertEqual(self.done(("open", "in", 20, "Door, left"), acts=doors), {"l": (20,)})

    def test_an_entry_that_names_two_parts_counts_for_both(self):
        acts = (
            Act("d", "trial-fit", "Door, left", ("in",)),
            Act("w", "trial-fit", "Wing", ("in",)),
            Act("x", "trial-fit", "Wing", ("in",)),
        )
        for what, expected in (
            ("Door, left and wing", "dw"), ("wing & door, left", "dw"), ("Door, wing", "w"), ("bonnet", "d"), ("", "d"), ("wing", "w"),
        ):  # fmt: skip
            with self.subTest(what):
                found = self.done(("trial-fit", "in", 10, what), acts=acts)
                self.assertEqual("".join(sorted(found)), expected)

    def test_an_entry_that_names_another_act_counts_for_none_that_it_does_not_name(self):
        """Another of its kind on that face: a closing of the same name, or a trial fit elsewhere, takes nothing away."""
        bonnet = Act("b", "trial-fit", "Bonnet", ("in",))
        for kind, face, done in (("trial-fit", "in", ""), ("close", "in", "b"), ("trial-fit", "out", "b")):
            with self.subTest(kind, face=face):
                acts = (bonnet, Act("w", kind, "Wing", (face,)))
                found = self.done(("trial-fit", "in", 10, "wing"), acts=acts)
                self.assertEqual("".join(k for k in found if k == "b"), done)

    def test_a_trial_fit_that_names_two_parts_lets_both_be_fitted(self):
        for tried, what, forced in (
            ("Door and wing", "Door", False), ("Door and wing", "wing", False), ("Door, wing", "Wing", False), ("Door", "Door and wing", True),
            ("Door and wing", "Wing and door", False), ("Door and wing", "Bonnet", True), ("Door, left and wing", "door, left", False),
        ):  # fmt: skip
            with self.subTest(tried, what=what):
                trial = Act("t", "trial-fit", tried, ("out",), done=True)
                self.assertEqual(self.is_forced(trial, Act("f", "fit", what, ("out",))), forced)
        door, wing = (Act(k, "trial-fit", what, ("out",)) for k, what in (("d", "Door, left"), ("w", "Wing")))
        both = Act("f", "fit", "Door, left and wing", ("out",))
        for name, trials, after, forced in (
            ("one of two tried", (door, wing), ("d",), True), ("both come before", (door, wing), ("d", "w"), False), ("neither done nor before", (door, wing), (), True),
            ("one is done", (replace(door, done=True), wing), ("w",), False),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(self.is_forced(*trials, replace(both, after=after)), forced)

    def is_forced(self, *acts):
        """True if a part is fitted that was never tried."""
        return "forced-fit" in [v.rule for v in access_rules.verdicts(Plan(acts, BARE))]

    def test_what_can_be_done_now_waits_for_nothing(self):
        self.assertEqual(access.ready(self.ACTS), {"o"})
        self.assertEqual(access.ready((replace(self.ACTS[0], done=True), *self.ACTS[1:])), {"p"})

    def test_what_is_told_done_lets_the_rest_be_found(self):
        told = (replace(self.ACTS[0], done=True), *self.ACTS[1:])
        self.assertEqual(self.done(("coat", "in", 120, ""), acts=told), {"o": (), "p": (120,)})


class RuleTests(SimpleTestCase):
    def test_film_on_its_edges_and_still_to_come_eats_a_gap(self):
        """3900 − 1.3 · (310 + 290) = 3120 µm."""
        faces = {"out": Face("Jamb", coated=True, film_um=310, planned_um=290)}
        for least, expected in ((3000, []), (3120, []), (3200, ["gap"])):
            plan = Plan((Act("f", "close", "Door", ("out",), bare_um=3900, least_um=least),), faces)
            with self.subTest(least):
                self.assertAlmostEqual(access_rules.gap_of(plan, plan.acts[0]).left_um, 3120)
                self.assertEqual([v.rule for v in verdicts(plan)], expected)
        self.assertIsNone(access_rules.gap_of(plan, OPEN))

    def test_every_rule_changes_its_case_when_it_is_switched_off(self):
        self.assertEqual({r for r, rule in REGISTRY.items() if rule.each in {"access", "ring"}}, set(CASES))
        for rule, plan in CASES.items():
            with self.subTest(rule):
                self.assertIn(rule, [v.rule for v in verdicts(plan)])
                self.assertNotIn(rule, [v.rule for v in verdicts(plan, off=frozenset({rule}))])

    def test_the_hidden_face_is_found_before_it_is_closed_and_the_burnt_one_after_the_weld(self):
        hidden = next(v for v in verdicts(Plan((OPEN, CLOSE), BARE)) if v.rule == "hidden-uncoated")
        self.assertEqual(hidden.sentence, "Close: Sill plate hides Sill, inside, which nothing coats before: coat it while it can be reached.")  # fmt: skip
        self.assertEqual(verdicts(Plan((OPEN, WELD, COAT, CLOSE), LAPPED)), [])
        early = Plan((OPEN, Act("p", "coat", "Inside", ("in",)), Act("w", "weld", "Patch", ("in", "out"), ("p",)), CLOSE), LAPPED)  # fmt: skip
        self.assertEqual([v.rule for v in verdicts(early)], ["weld-burns"])
        self.assertIn("burns the film on Sill, inside", verdicts(early)[0].sentence)

    def test_sealing_before_a_weld_is_let_dry(self):
        plan = Plan((Act("s", "seal", "Lap", ("in",)), replace(WELD, after=("s",))), LAPPED)
        found = [(v.rule, v.severity, v.sentence) for v in verdicts(plan) if v.rule == "wet-sealer"]
        self.assertEqual(
            found,
            [
                (
                    "wet-sealer",
                    "advises",
                    "Weld: Patch comes after sealing Sill, inside: the sealer is dry before the joint is welded.",
                )
            ],
        )

    def test_a_cycle_is_named_with_its_members(self):
        found = verdicts(CASES["ring"])[0]
        self.assertRegex(found.sentence, r"Each waits for the other: Weld: (A|B) → Weld: (A|B) → Weld: (A|B)\.")

    def test_what_stays_bare_by_design_may_be_closed(self):
        self.assertEqual(verdicts(Plan((OPEN, CLOSE), {"in": Face("Nose, inside", stays_bare=True)})), [])
