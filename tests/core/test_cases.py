"""Cases as data: facts of the trade and the word that each earns. Rules come and go, the rows stay.

All rows are common practice, no source, but for the sheets' figures, which are their own.
"""

from pathlib import Path

import yaml
from django.test import SimpleTestCase

from emplastra.core.rules.registry import REGISTRY, SEVERITIES
from tests.rulings import ruling_of, words_of

CASES = yaml.safe_load((Path(__file__).parent.parent / "cases" / "rulings.yaml").read_text())
OF_ACTS = {key: rule for key, rule in REGISTRY.items() if rule.each in {"face", "ground", "finding", "tin"}}


class CaseTests(SimpleTestCase):
    def test_each_case_earns_its_word(self):
        for row in CASES:
            with self.subTest(row["name"]):
                ruling = ruling_of(row)
                self.assertEqual(words_of(ruling), row["says"], [v.sentence for v in ruling.verdicts])
                missing = [str(aspect).replace(" ", "-") for aspect in ruling.missing]
                if "misses" in row:
                    self.assertEqual(sorted(missing), sorted(row["misses"]), ruling.missing)
                if not row["says"] and not missing:
                    self.assertEqual((ruling.word, ruling.clean), ("clean", ruling.concerned))

    def test_each_rule_switched_off_changes_a_case(self):
        """Every rule of an act speaks in some row, at the gravity it is entered with or one that it gives itself."""
        silent = set(OF_ACTS)
        for row in CASES:
            for rule in {v.rule for v in ruling_of(row).verdicts} & silent:
                off = ruling_of(row, frozenset({rule}))
                self.assertNotIn(rule, [v.rule for v in off.verdicts])
                silent.discard(rule)
        self.assertEqual(silent, set())
        for rule in REGISTRY.values():
            self.assertIn(rule.severity, SEVERITIES)
            self.assertTrue(rule.source and rule.title)
