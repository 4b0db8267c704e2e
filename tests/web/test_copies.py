"""Copied before it is cut: what a copy wants, how measures are read, what is said at the cut."""

import io

from django.test import SimpleTestCase

from emplastra.accounts.models import Workshop
from emplastra.core.care.copying import Copy, prompt, read_measures
from emplastra.core.survey.answers import Answer
from emplastra.handover.dossier import dossier_of
from emplastra.jobs import copies, surveying
from emplastra.jobs.models import Copied, CopiedWord
from emplastra.jobs.services import save_build_up
from emplastra.logbook.models import Kind
from emplastra.say.book import Book
from emplastra.shared.services import Refused
from tests.base import ShopCase, text_of

WHOLE = {"datum": "hinge hole", "measures": (("pitch", 75.0),), "scale_mm": 100.0, "has_photo": True}


class CoreTests(SimpleTestCase):
    """What a copy wants: common practice, no source."""

    def test_what_is_missing(self):
        for kind, more, missing, state in (
            ("bead", WHOLE, 0, "copied"), ("bead", {}, 3, "missing"), ("mark", {}, 1, "missing"), ("mark", {"has_photo": True}, 1, "missing"), ("mark", {"has_photo": True, "scale_mm": 50.0}, 0, "copied"),
            ("texture", {"has_photo": True, "scale_mm": 50.0}, 0, "copied"), ("holes", WHOLE | {"datum": ""}, 1, "missing"), ("seam", WHOLE | {"measures": ()}, 1, "missing"), ("shape", WHOLE | {"has_photo": False}, 1, "missing"),
            ("bead", {"said": frozenset({"made"})}, 0, "made"), ("bead", {"said": frozenset({"made", "fitted"})}, 0, "fitted"),
        ):  # fmt: skip
            found = Copy(kind, "it", **more)
            self.assertEqual((len(found.missing), found.state), (missing, state), (kind, more))

    def test_measures_as_they_are_typed(self):
        """An inch is 25.4 mm by definition."""
        for text, unit, found in (
            ("first hole 32 mm; pitch 75", "mm", (("first hole", 32.0), ("pitch", 75.0))), ("bead 12.5\nlip 3 in", "mm", (("bead", 12.5), ("lip", 76.2))),
            ("pitch 2", "in", (("pitch", 50.8),)), ("", "mm", ()), ("; ;", "mm", ()),
        ):  # fmt: skip
            told = read_measures(text, unit)
            self.assertEqual([(name, round(mm, 6)) for name, mm in told], list(found), text)
        for text in ("32", "hole", "hole 32 kg", "hole -3", "hole 99999", "a 1;" * 61):
            with self.assertRaises(ValueError):
                read_measures(text)

    def test_what_is_said_at_the_cut(self):
        whole, part = Copy("bead", "foot beads", **WHOLE), Copy("holes", "hinge holes")
        for kind, told, marks, said in (
            ("prime", [part], "", ""), ("weld", [part], "", "hinge holes lacks a photo with a scale in it."), ("repair", [part, part, whole], "", "and 1 more"), ("repair", [], "the plate", "nothing is copied of the plate"),
            ("repair", [whole], "the plate", "Make the new part while the old one is there: foot beads"), ("repair", [], "", "Its datum goes with the metal"), ("repair", [Copy("bead", "x", said=frozenset({"made"}))], "", ""),
        ):  # fmt: skip
            found = prompt(kind, told, marks)
            self.assertTrue(said in found and bool(said) == bool(found), (found, said))


class CopyTests(ShopCase):
    def test_copied_by_the_form_made_and_fitted(self):
        url = f"/zones/{self.shop.zone.pk}/copy"
        bad = self.client.post(url, {"token": "a", "kind": "bead", "what": "foot beads", "measures": "pitch"})
        self.assertEqual(
            (bad.status_code, "Measures from there: “pitch”" in text_of(bad), "foot beads" in bad.content.decode()),
            (422, True, True),
        )
        no_photo = self.client.post(url, {"token": "b", "kind": "bead", "what": "foot beads", "scale_mm": "100"})
        self.assertIn("stands in a photo: send it too", text_of(no_photo))
        self.client.post(
            url,
            {
                "token": "c",
                "kind": "bead",
                "what": "foot beads",
                "datum": "hinge hole",
                "measures": "pitch 75",
                "scale_mm": "100",
                "photo": _picture(),
            },
        )
        row = Copied.objects.get()
        self.assertEqual((row.measures, row.scale_mm, row.photo.note), ([["pitch", 75.0]], 100.0, "copy: foot beads"))
        self.assertIn("Make the new part while the old one is there: foot beads", text_of(self.client.get(url)))
        for said, words in (("made", "Made"), ("made", "that was said of it already"), ("fitted", "Fitted")):
            page = text_of(
                self.client.post(f"/copies/{row.pk}/word", {"token": f"w{words}", "said": said}, follow=True)
            )
            self.assertIn(words, page)
        self.assertIn("All that was to be copied here is made", page)
        self.assertIn("from hinge hole: pitch", dossier_of(self.shop.job, Book()).faces[0].kept[0])

    def test_at_the_cut_and_nowhere_else(self):
        shop = self.shop
        zone = shop.make_zone("Foot")
        steps = [
            {"kind": "repair", "id": "r"},
            {"kind": "prime", "id": "p", "product": "Test primer", "coats": 1, "dft_um": 50},
        ]
        save_build_up(zone, shop.user, steps, 1)
        surveying.state(zone, shop.user, "found", [(Answer("marks", "", "marks", {}, "the maker’s plate", "bare"), "")])
        said = "nothing is copied of the maker’s plate"
        for page in ("", "log/film-lost"):
            self.assertIn(said, text_of(self.client.get(f"/zones/{zone.pk}/{page}")))
        self.assertNotIn("Copy first", text_of(self.client.get(f"/zones/{shop.zone.pk}/")))
        shop.tell(Kind.DONE, -2, -1, "r", zone=zone)
        self.assertNotIn("Copy first", text_of(self.client.get(f"/zones/{zone.pk}/")))

    def test_written_down_by_mistake_counts_no_more(self):
        row = copies.copy(self.shop.zone, self.shop.user, "mark", "number")
        copies.say_of_copy(row, self.shop.user, "struck")
        self.assertEqual(copies.copied_on([self.shop.zone])[self.shop.zone.pk], [])
        for said in ("made", "sold"):
            with self.assertRaises(Refused):
                copies.say_of_copy(row, self.shop.user, said)
        with self.assertRaises(Refused):
            copies.copy(self.shop.zone, self.shop.user, "ghost", "x")
        self.assertEqual(CopiedWord.objects.count(), 1)

    def test_in_inches(self):
        Workshop.objects.update(units="us")
        self.client.post(
            f"/zones/{self.shop.zone.pk}/copy", {"token": "i", "kind": "holes", "what": "holes", "measures": "pitch 2"}
        )
        self.assertEqual(Copied.objects.get().measures, [["pitch", 50.8]])
        self.assertIn("2.00 in", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/copy")))


def _picture():
    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (60, 40), (90, 90, 90)).save(out, "JPEG")
    out.seek(0)
    out.name = "copy.jpg"
    return out
