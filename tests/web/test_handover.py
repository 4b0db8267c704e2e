"""A job handed over: the dossier on pages and read back from its PDF, the care page by a private address."""

import io
import re
from datetime import date
from unittest import mock

import pypdfium2
import vobject
from pypdf import PdfReader

from emplastra.accounts.models import Workshop
from emplastra.core.survey.answers import Answer
from emplastra.handover import making
from emplastra.handover.dossier import dossier_of
from emplastra.handover.pdf import dossier_pdf, spelt
from emplastra.jobs import handing, photos, registers, surveying
from emplastra.jobs.models import CareLink, HandOver, Job
from emplastra.logbook.models import Kind
from emplastra.say.book import Book
from emplastra.shared import clock
from emplastra.shared.models import Task
from emplastra.shared.services import Refused, new_token
from tests.base import NOON, H, ShopCase, TaskCase, text_of


def finished(shop):
    """Two coats of 100 µm wet at 50 % solids: 50 µm each, measured by comb; the last ended an hour ago."""
    shop.tell(Kind.BARED, -8, -7, "s-strip")
    shop.tell(Kind.DEGREASED, -7, -6.9, "s-wipe")
    shop.coat(-6.5, -6, wft_um=[100])
    shop.coat(-3, -1, wft_um=[100])


def pdf_of(job, **more):
    data = dossier_pdf(dossier_of(job, Book(more=job.zones.in_use()), **more))
    return data, PdfReader(io.BytesIO(data))


class DossierTests(ShopCase):
    def test_the_pdf_read_back_tells_what_the_record_holds(self):
        shop = self.shop
        finished(shop)
        surveying.state(shop.zone, shop.user, "found", [(Answer("rust", "", "C", {}, "lower edge", "paint"), "")])
        photos.keep(shop.zone, shop.user, photos.clean(_jpeg()), "after", "all of it, done")
        registers.take_off(shop.job, shop.user, "Lamp", shop.zone, fixings="two of M5", kept_at="box 9")
        registers.put_off(shop.zone, shop.user, "put-off", "weld the lip", "no panel yet", date(2026, 9, 1))
        data, reader = pdf_of(shop.job, words="Keep it dry.\nSecond line, Łódź → Ω ≤ 5.")
        pages = [re.sub(r"\s+", " ", page.extract_text()) for page in reader.pages]
        whole = " ".join(pages)
        for words in (
            "Trolley", "Keep it dry.", "Łódź → Ω ≤ 5", "Cab side", "about 100 µm over mild steel", "Rust grade C", "lower edge", "Test primer", "all of it, done",
            "two of M5", "weld the lip: no panel yet", "Look again 1 Sep 2026", "12 May 2026", "comb", "20.0 °C, 50 %", "A chip is touched up with", "Base 12.0 g, Hardener 2.0 g",
        ):  # fmt: skip
            self.assertIn(words, whole)
        self.assertEqual([page for page in pages if len(page) < 60], [])
        self.assertEqual(
            [f"page {n} of {len(pages)}" in page for n, page in enumerate(pages, 1)],
            [False] + [True] * (len(pages) - 1),
        )
        self.assertIn("face 1 of 1 ·", whole)
        self.assertTrue({"Map and faces", "Cab side", "Taken off"} <= {entry.title for entry in reader.outline})
        used = {}
        for page in reader.pages:
            page.extract_text(
                visitor_text=lambda text, cm, tm, font, size: text.strip() and used.update({font["/BaseFont"]: font})
            )
        self.assertEqual(len(used), 3)
        self.assertEqual(
            {name for name, font in used.items() if "/FontFile2" not in font["/FontDescriptor"].get_object()}, set()
        )
        self.assertEqual(data, pdf_of(shop.job, words="Keep it dry.\nSecond line, Łódź → Ω ≤ 5.")[0])
        with pypdfium2.PdfDocument(data) as second:
            self.assertEqual(len(second), len(pages))
            self.assertIn("Test primer", "".join(second[n].get_textpage().get_text_range() for n in range(len(second))))

    def test_of_ten_millilitres_of_four_to_one(self):
        """4:1 by volume at 1.5 and 1.0 g/mL: 8 mL are 12 g, 2 mL are 2 g; at 20 °C the mild hardener."""
        finished(self.shop)
        row = dossier_of(self.shop.job, Book()).touch[0]
        self.assertEqual([round(t.amount, 6) for t in row.mix.targets], [12.0, 2.0])

    def test_a_job_half_done_and_one_with_nothing(self):
        shop = self.shop
        shop.tell(Kind.BARED, -3, -2, "s-strip")
        half = " ".join(page.extract_text() for page in pdf_of(shop.job)[1].pages)
        self.assertIn("Not finished: 1 face with work still planned", half)
        empty = Job.objects.create(name="Empty")
        self.assertEqual(len(pdf_of(empty)[1].pages), 1)
        self.assertIn("no face yet", text_of(self.client.get(f"/jobs/{empty.pk}/dossier")))
        for page in ("dossier", "care"):
            self.assertEqual(self.client.get(f"/jobs/{shop.job.pk}/{page}").status_code, 200)

    def test_photos_whose_files_are_gone(self):
        photos.keep(self.shop.zone, self.shop.user, photos.clean(_jpeg()), "before", "gone")
        with mock.patch("emplastra.handover.pdf.file_of", return_value=None):
            self.assertIn(
                "1 of its photos cannot be found", " ".join(p.extract_text() for p in pdf_of(self.shop.job)[1].pages)
            )

    def test_in_the_units_of_the_workshop(self):
        finished(self.shop)
        Workshop.objects.update(units="us")
        _, reader = pdf_of(self.shop.job)
        whole = " ".join(page.extract_text() for page in reader.pages)
        self.assertIn("about 3.9 mil", whole)
        self.assertNotIn("µm", whole)
        self.assertEqual([round(float(x)) for x in reader.pages[0].mediabox[2:]], [612, 792])

    def test_only_chosen_parts_are_told(self):
        finished(self.shop)
        registers.take_off(self.shop.job, self.shop.user, "Lamp", None)
        whole = " ".join(page.extract_text() for page in pdf_of(self.shop.job, parts=("built",))[1].pages)
        self.assertIn("As built", whole)
        for words in ("Taken off", "Every coat", "What to watch", "Map and faces"):
            self.assertNotIn(words, whole)

    def test_what_is_told_is_checked_and_kept(self):
        url, user = f"/jobs/{self.shop.job.pk}/dossier", self.shop.user
        answer = self.client.post(url, {"token": "d", "words": "x"})
        self.assertEqual((answer.status_code, "What is told:" in text_of(answer)), (422, True))
        for parts, words, field in (((), "", "parts"), (("nothing",), "", "parts"), (("map",), "x" * 4001, "words")):
            with self.assertRaises(Refused) as refused:
                handing.hand_over(self.shop.job, user, parts, words)
            self.assertEqual(refused.exception.field, field)
        with self.assertRaises(Refused):
            handing.hand_over(self.shop.job, self.shop.people["viewer"], ("map",))
        shown = self.client.post(url, {"token": "e", "parts": ["off"], "words": "<b>mine</b>", "look": "1"})
        self.assertIn("&lt;b&gt;mine&lt;/b&gt;", shown.content.decode())
        self.assertEqual(HandOver.objects.count(), 0)

    def test_letters_of_no_font_become_a_question_mark(self):
        self.assertEqual(spelt("a<Ω字"), 'a&lt;<font name="Rest">Ω</font>?')


class MakingTests(TaskCase):
    def test_made_by_a_child_and_opened(self):
        finished(self.shop)
        job = self.shop.job
        self.assertRedirects(self.client.get(f"/jobs/{job.pk}/dossier.pdf"), f"/jobs/{job.pk}/dossier")
        answer = self.client.post(
            f"/jobs/{job.pk}/dossier", {"token": "m", "parts": ["built", "watch"], "words": "Mine."}
        )
        task = self.ended(answer["Location"])
        self.addCleanup(lambda: making.path_of(job, "dossier").unlink(missing_ok=True))
        self.assertEqual((task.state, task.words), (Task.State.DONE, ""))
        whole = PdfReader(io.BytesIO(self.client.get(task.result["url"]).content))
        self.assertIn("Mine.", whole.pages[0].extract_text())
        self.assertIn(f"Made: {len(whole.pages)} pages.", text_of(self.client.get(answer["Location"])))
        again = self.client.post(
            f"/jobs/{job.pk}/dossier", {"token": "m", "parts": ["built", "watch"], "words": "Mine."}
        )
        self.assertEqual((again["Location"], HandOver.objects.count()), (answer["Location"], 1))


class CareTests(ShopCase):
    """Cure of 6000 min at any temperature: 100 h after the last coat."""

    def setUp(self):
        super().setUp()
        finished(self.shop)
        self.as_owner()
        self.url = f"/jobs/{self.shop.job.pk}/care"

    def address(self):
        answer = self.client.post(f"{self.url}/address", {"token": new_token()}, follow=True)
        return re.search(r"value=\"http://testserver(/care/[^\"]+)\"", answer.content.decode())[1]

    def test_opens_by_its_address_alone_until_it_is_revoked(self):
        first = self.address()
        self.assertNotIn(first, self.client.get(self.url).content.decode())
        owner = self.client_class()
        answer = owner.get(first)
        self.assertEqual(
            (answer.status_code, answer["Cache-Control"], answer["X-Robots-Tag"]), (200, "private, no-store", "noindex")
        )
        self.assertIn("Trolley", text_of(answer))
        self.assertEqual(owner.post(first).status_code, 405)
        self.assertEqual(owner.get(self.url).status_code, 302)
        second = self.address()
        self.assertEqual([owner.get(one).status_code for one in (first, second, "/care/x")], [404, 200, 404])
        self.client.post(f"{self.url}/revoke", {"token": "r"})
        self.assertEqual([owner.get(second + more).status_code for more in ("", "/looks.ics")], [404, 404])
        self.assertEqual(CareLink.objects.filter(revoked=None).count(), 0)
        self.assertFalse(CareLink.objects.filter(digest__in=[first.split("/")[-1], second.split("/")[-1]]).exists())

    def test_a_job_given_up_is_closed_to_its_address_too(self):
        address = self.address()
        Job.objects.update(removed=True)
        self.assertEqual(self.client_class().get(address).status_code, 404)

    def test_says_what_may_be_done_as_it_cures(self):
        """Handled and rained on after 100 h, washed after 7 days, waxed after 60: all from the end of the last coat."""
        for hours, now, later in (
            (0, 0, 6),
            (98, 0, 6),
            (99.1, 3, 3),
            (7 * 24, 4, 2),
            (30 * 24, 5, 1),
            (60 * 24, 6, 0),
        ):
            clock.freeze(NOON + hours * H)
            page = self.client.get(self.url).content.decode()
            self.assertEqual(
                (page.count('is-open"><span class="care-when'), page.count('is-later"><span')), (now, later), hours
            )
            self.assertEqual(page.count('is-never"><span'), 1)

    def test_its_looks_in_a_calendar(self):
        """Lower edge and sun of a last epoxy: each year from May 2027, five years on."""
        address = self.address()
        made = vobject.readOne(self.client_class().get(f"{address}/looks.ics").content.decode())
        days = sorted((event.summary.value, event.dtstart.value) for event in made.vevent_list)
        self.assertEqual(
            [day for summary, day in days if "lower edge" in summary], [date(year, 5, 12) for year in range(2027, 2032)]
        )
        self.assertEqual(len({event.uid.value for event in made.vevent_list}), len(days))

    def test_a_viewer_reads_and_makes_none(self):
        self.client.force_login(self.shop.people["viewer"])
        self.assertNotIn("Make a private address", text_of(self.client.get(self.url)))
        self.assertEqual(self.client.post(f"{self.url}/address", {"token": "v"}).status_code, 403)


def _jpeg():
    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (80, 60), (120, 40, 30)).save(out, "JPEG")
    return out.getvalue()
