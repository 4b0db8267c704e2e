"""Access: order and cycles against networkx, each rule against a case that changes when it is switched off."""

import networkx
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from emplastra.core import access
from emplastra.core.access import KINDS, AccessError, Act, Face, Plan, columns, edges, order, reach_now, verdicts
from emplastra.core.rules import REGISTRY

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
    "weld-burns": Plan((OPEN, Act("w", "weld", "Patch", ("out",))), {"out": Face("Sill, outside", coated=True)}),
    "hot-near-wax": Plan((Act("w", "weld", "Patch", ("out",)),), {"out": Face("Sill, outside", waxed=True)}),
    "wet-sealer": Plan((Act("w", "weld", "Patch", ("out",)),), {"out": Face("Sill, outside", sealer_wet=True)}),
    "drain-shut": Plan((CLOSE,), {"in": Face("Sill, inside", coated=True, drains_closed=("1",))}),
    "gap": Plan((Act("f", "fit", "Door", ("out",), gap_um=300),), {"out": Face("Sill, outside", coated=True, film_um=310)}),
    "forced-fit": Plan((Act("f", "fit", "Door", ("out",)),), BARE),
    "fill-early": Plan((Act("l", "fill", "Skin", ("out",)), Act("t", "trial-fit", "Door", ("out",))), BARE),
    "trial-stays": Plan((Act("t", "trial-fit", "Door", ("in",)), CLOSE, COAT, WELD), LAPPED),
    "ring": Plan((Act("a", "weld", "A", ("out",), ("b",)), Act("b", "weld", "B", ("in",), ("a",))), LAPPED),
}  # fmt: skip


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


class RuleTests(SimpleTestCase):
    def test_every_rule_changes_its_case_when_it_is_switched_off(self):
        self.assertEqual({r for r, rule in REGISTRY.items() if rule.looks_at in {"access", "ring"}}, set(CASES))
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

    def test_a_cycle_is_named_with_its_members(self):
        found = verdicts(CASES["ring"])[0]
        self.assertRegex(found.sentence, r"Each waits for the other: Weld: (A|B) → Weld: (A|B) → Weld: (A|B)\.")

    def test_what_stays_bare_by_design_may_be_closed(self):
        self.assertEqual(verdicts(Plan((OPEN, CLOSE), {"in": Face("Nose, inside", stays_bare=True)})), [])
