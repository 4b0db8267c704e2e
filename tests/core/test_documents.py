"""What is taken from a file: plain values only, and systems within their bounds, to the last one that is taken."""

from datetime import date

import jsonschema
from django.test import SimpleTestCase

from emplastra.core.document import MAX_DEPTH, MAX_TEXT, MAX_WHOLE, DocumentError, plain, wanted
from emplastra.core.surface.plan import read_steps
from emplastra.core.surface.system_file import MAX_STEPS, MAX_SYSTEMS, read, trouble_of


def nested(levels):
    """A list in a list, so many levels deep, round a number."""
    value = 1
    for _ in range(levels):
        value = [value]
    return value


class PlainTests(SimpleTestCase):
    def test_what_is_taken(self):
        for value, expected in (
            (None, None), (True, True), (0, 0), (MAX_WHOLE, MAX_WHOLE), (-MAX_WHOLE, -MAX_WHOLE), (-1.5, -1.5), ("a\n\tb", "a\n\tb"), ("x" * MAX_TEXT, "x" * MAX_TEXT),
            (date(2026, 5, 12), "2026-05-12"), ([1, [2]], [1, [2]]), ({"a": {"b": None}}, {"a": {"b": None}}), ("😀é²", "😀é²"), (nested(MAX_DEPTH), nested(MAX_DEPTH)),
        ):  # fmt: skip
            with self.subTest(str(value)[:30]):
                self.assertEqual(plain(value), expected)

    def test_what_is_refused_and_where(self):
        for value, path, words in (
            (MAX_WHOLE + 1, "document", "far too large"), (float("inf"), "document", "no finite number"), ({"a": [0, float("nan")]}, "a/1", "no finite number"),
            ("x" * (MAX_TEXT + 1), "document", "longer than 4000"), ("a\0", "document", "no text"), ("\ud800", "document", "no text"), ("\udfff", "document", "no text"), ("a\rb", "document", "no text"),
            ({1: 2}, "1", "a name that is no text"), ({"a": {None: 1}}, "a/None", "a name that is no text"), ({"a\0": 1}, "document", "no text"), ({1, 2}, "document", "is a set"), (b"x", "document", "is a bytes"),
            (nested(MAX_DEPTH + 1), "/".join("0" * (MAX_DEPTH + 1)), "deeper than 24"),
        ):  # fmt: skip
            with (
                self.subTest(words, value=str(value)[:30].encode("ascii", "replace")),
                self.assertRaises(DocumentError) as caught,
            ):
                plain(value)
            self.assertEqual(caught.exception.problems[0][0], path)
            self.assertIn(words, caught.exception.problems[0][1])


class WantedTests(SimpleTestCase):
    """What a schema refuses is told in words, with what stands there."""

    def test_each_kind_of_error(self):
        listed = {"type": "array", "items": {"type": "number"}, "minItems": 1, "maxItems": 2}
        fields = {
            "type": "object",
            "required": ["a", "b"],
            "additionalProperties": False,
            "properties": {"a": {}, "b": {}},
        }
        inside = {"type": "array", "items": {"const": "u"}}
        for schema, value, words in (
            ({"type": "integer"}, "three", "must be a whole number, not 'three'"), ({"type": ["number", "null"]}, "x", "must be a number or nothing, not 'x'"),
            ({"enum": ["a", "b", "c"]}, "d", "must be a or b or c, not 'd'"), ({"enum": list("abcd")}, "e", "must be one of a, b, c, d, not 'e'"), ({"enum": list("abcdefghi")}, 5, "must be one of a, b, c, d, e, f, g, h … (9 in all), not 5"),
            ({"minimum": 0}, -1, "must be at least 0, not -1"), ({"maximum": 100}, 180, "must be at most 100, not 180"), ({"exclusiveMinimum": 0}, 0, "must be more than 0, not 0"),
            (listed, [], "must have at least 1 in it"), (listed, [1, 2, 3], "has more than 2 in it"), ({"minLength": 1}, "", "must not be empty"), ({"maxLength": 3}, "long", "is longer than 3 characters"),
            (fields, {"b": 1}, "is missing a"), (fields, {"a": 1, "b": 1, "hue": 1}, "has “hue”, which is no field here"), ({"pattern": "^P", "description": "a grade such as P180"}, "180", "must be a grade such as P180, not '180'"),
            ({"pattern": "^P"}, "180", "must be written otherwise, not '180'"), ({"anyOf": [listed, {"const": "unknown"}, {"type": "null"}]}, "soon", "must be a list or unknown or nothing, not 'soon'"),
            ({"anyOf": [inside, fields]}, ["x"], "must be u, not 'x'"),
        ):  # fmt: skip
            with self.subTest(words):
                self.assertEqual(wanted(next(jsonschema.Draft202012Validator(schema).iter_errors(value))), words)


class SystemTests(SimpleTestCase):
    def systems(self, name="One", count=1, steps=1, **step):
        """So many systems of so many steps, the last step with these fields."""
        rows = [{"kind": "strip"}] * (steps - 1) + [{"kind": "prime", **step}]
        return [{"name": f"{name}{n or ''}", "steps": rows} for n in range(count)]

    def test_bounds_to_the_last_that_is_taken(self):
        for good, bad in (
            ({"coats": 20}, {"coats": 21}), ({"coats": 1}, {"coats": 0}), ({"thinner_pct": 0}, {"thinner_pct": -0.1}), ({"thinner_pct": 100}, {"thinner_pct": 100.1}), ({"dft_um": 10000}, {"dft_um": 10001}),
            ({"dft_um": 0}, {"dft_um": -1}), ({"product": "x" * 80}, {"product": "x" * 81}), ({"name": "x" * 80}, {"name": "x" * 81}), ({"name": "x"}, {"name": ""}), ({"steps": MAX_STEPS}, {"steps": MAX_STEPS + 1}),
            ({"count": MAX_SYSTEMS}, {"count": MAX_SYSTEMS + 1}), ({"grit": "P80"}, {"grit": "80"}), ({"grit": ""}, {"grit": "P8"}), ({"note": "x" * 200}, {"note": "x" * 201}), ({"sanded_um": 1.5}, {"sanded_um": True}),
        ):  # fmt: skip
            with self.subTest(str(bad)[:40]):
                self.assertEqual(read(self.systems(**good)), self.systems(**good))
                with self.assertRaises(DocumentError):
                    read(self.systems(**bad))

    def test_where_it_is_wrong_is_counted_from_one(self):
        two = [*self.systems(), *self.systems("Two", steps=3, coats=0)]
        for document, path in (
            (two, "system 2, step 3, coats"),
            (self.systems() * 2, "system 2, name"),
            ([5], "system 1"),
            ({}, "document"),
        ):
            with self.subTest(path), self.assertRaises(DocumentError) as caught:
                read(document)
            self.assertEqual([where for where, _ in caught.exception.problems], [path])

    def test_what_is_stored_shows_its_trouble(self):
        for steps, trouble in (
            ([], ""), ([{"kind": "strip", "of old": 1}], ""), ([{"kind": "strip"}, {"kind": "prime", "coats": "2"}], "step 2, coats: must be a whole number, not '2'"), ("x", "its steps are no list"),
            ([5], "step 1, document: must be named fields, not 5"),
        ):  # fmt: skip
            with self.subTest(trouble):
                self.assertEqual(trouble_of(steps), trouble)

    def test_a_stored_plan_is_read_or_says_which_step_cannot_be(self):
        good = {"id": "a", "kind": "prime", "coats": 2, "dft_um": 35}
        self.assertEqual([(s.id, s.kind, s.coats, s.dft_um) for s in read_steps([good])], [("a", "prime", 2, 35)])
        untold = read_steps(
            [{**good, "dft_um": None}, {**good, "id": "b", "dft_um": 0.0}, {"id": "c", "kind": "prime"}]
        )
        self.assertEqual([(s.dft_um, s.left_um) for s in untold], [(None, None)] * 3)
        self.assertEqual(
            [s.kind for s in read_steps([{"id": "a", "kind": "strip"}])], ["strip"]
        )  # the rest have their blanks
        for rows, words in (
            ("x", "no list"), ([5], "step 1 has no id"), ([good, {"kind": "prime"}], "step 2 has no id"), ([{"id": "a"}], "no id or kind"), ([{**good, "coats": "two"}], "coats is 'two'"), ([{**good, "coats": True}], "coats is 'True'"),
            ([{**good, "colour": 1}], "colour is '1'"), ([{**good, "kind": "fly"}], "no kind 'fly'"), ([{**good, "dft_um": "35"}], "dft_um is '35'"), ([{**good, "note": 5}], "note is '5'"), ([good, {**good, "id": 7}], "step 2: id"),
        ):  # fmt: skip
            with self.subTest(words), self.assertRaisesRegex(ValueError, words):
                read_steps(rows)
