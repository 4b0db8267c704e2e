"""Days on pages: planned by a child process or at once, taken, moved, and why a window cannot be kept."""

import re
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

import vobject
from django.db import connection
from django.test.utils import CaptureQueriesContext

from emplastra.accounts.models import FeedLink, User
from emplastra.climate.models import Place
from emplastra.core.schedule.faces import walk
from emplastra.days import planning
from emplastra.days.calendar import rings_at
from emplastra.jobs import days, estimates
from emplastra.jobs.models import ActDay, DaysPlan, HoursTold, Job, Paid
from emplastra.jobs.registers import put_off
from emplastra.logbook.models import Kind
from emplastra.materials.models import Product
from emplastra.materials.services import add_sheet
from emplastra.shared import clock, tasks
from emplastra.shared.models import Task
from emplastra.shared.services import Refused
from emplastra.state.book import Book
from emplastra.state.days import gathered
from emplastra.state.money import money_of
from tests.base import NOON, PRIMER, H, ShopCase, TaskCase, text_of, zone_state

FORM = {
    "token": "h",
    "kind": "shut",
    "person": "",
    "place": "",
    "begins": "2026-05-12 12:00",
    "ends": "2026-05-14 07:00",
}


def planned(case):
    """Plan within this process; the task with its proposal."""
    held = days.held_plan()
    task = Task.objects.create(
        user=case.shop.user, kind="days", boot=tasks.BOOT, about={"based_on": held.number if held else 0}
    )
    planning.plan(task, lambda done, words: None)
    task.refresh_from_db()
    return task, task.result["proposal"]


def rows_of(proposal):
    return {row["id"].partition(":")[2]: row for row in proposal["acts"]}


def hours_on(t_s):
    """Hours after noon of that Tuesday [h]."""
    return (t_s - NOON.timestamp()) / 3600


class PlanTests(ShopCase):
    def test_a_plan_keeps_hours_windows_and_air(self):
        _, proposal = planned(self)
        rows = rows_of(proposal)
        self.assertEqual(list(rows), ["s-strip:1", "s-wipe:1", "s-prime:1", "s-prime:2"])
        first, second = rows["s-prime:1"], rows["s-prime:2"]
        # Shop hours are assumed, Monday to Friday 7 to 17; two coats 2 to 24 h apart by the sheet.
        self.assertTrue(proposal["says"]["hours_assumed"])
        for row in rows.values():
            here = NOON + timedelta(seconds=row["begin"] - NOON.timestamp())
            self.assertTrue(7 <= here.hour < 17 and here.weekday() < 5, row)
        self.assertGreaterEqual(second["begin"], first["end"] + 2 * 3600 - 60)
        self.assertLessEqual(second["begin"], first["begin"] + 24 * 3600)
        self.assertLessEqual(first["begin"] - rows["s-wipe:1"]["end"], 3600)
        # A brush on 1 m²: mixing 10 and 14 min, by the overrun of 1.5 that is assumed of whoever told no hours, and a fifth
        # more since nothing of it is bared yet.
        self.assertAlmostEqual((first["end"] - first["begin"]) / 60, 24 * 1.5 * 1.2, places=3)
        self.assertEqual((proposal["says"]["missed"], proposal["clash"]), ([], None))

    def test_proposed_taken_once_and_told_apart_from_another(self):
        page = text_of(self.client.get("/days/"))
        self.assertIn("Nothing is planned yet", page)
        task, proposal = planned(self)
        page = text_of(self.client.get("/days/"))
        self.assertIn("Trolley ready Wed 13 May", page)
        self.assertIn("Proposed. Nobody has taken it yet.", page)
        self.assertIn('name="day" value="2026-05-12"', self.client.get("/days/").content.decode())
        for _ in range(2):  # a double tap
            self.client.post(f"/days/plan/{task.pk}/take", {"token": "t", "based_on": 0})
        self.assertEqual([plan.number for plan in DaysPlan.objects.all()], [1])
        self.assertEqual(days.held_plan().acts, proposal["acts"])
        # Two people at once: who takes a plan over one that was taken since is told.
        self.client.force_login(self.shop.people["mate"])
        answer = self.client.post(f"/days/plan/{task.pk}/take", {"token": "u", "based_on": 0}, follow=True)
        self.assertIn("somebody took another plan meanwhile", text_of(answer))
        self.assertNotIn("Proposed.", text_of(answer))
        self.client.force_login(self.shop.people["viewer"])
        self.assertNotIn("Plan again", text_of(self.client.get("/days/")))
        self.client.post("/days/plan")
        self.assertEqual(Task.objects.filter(state="running").count(), 0)

    def test_what_was_logged_is_out_and_what_should_have_been_is_said(self):
        _, proposal = planned(self)
        days.take_plan(self.shop.user, proposal["acts"], proposal["says"], 0)
        self.shop.tell(Kind.BARED, -1, -0.5, "s-strip", how="sander")
        clock.freeze(NOON + 26 * H)
        page = text_of(self.client.get("/days/"))
        self.assertIn("should have been done by now: Cab side, degrease; Cab side, prime 1", page)
        again = rows_of(planned(self)[1])
        self.assertNotIn("s-strip:1", again)
        self.assertGreater(hours_on(again["s-prime:1"]["begin"]), 26)
        # Bare metal that is overdue is primed all the same, and first of all.
        self.assertIn("would lie otherwise than in the plan that holds", text_of(self.client.get("/days/")))

    def test_few_changes_to_what_was_taken(self):
        other = self.shop.make_zone("Door")
        _, proposal = planned(self)
        later = [row | {"begin": row["begin"] + 2 * 86400, "end": row["end"] + 2 * 86400} for row in proposal["acts"]]
        days.take_plan(self.shop.user, later, proposal["says"], 0)
        again = {row["id"]: row for row in planned(self)[1]["acts"]}
        for row in later:
            self.assertLess(abs(again[row["id"]]["begin"] - row["begin"]), 86400 / 2)
        self.assertIn("Nothing moves by half a day or more", text_of(self.client.get("/days/")))
        # Promised for tomorrow, the job comes before what was only planned.
        Job.objects.update(promised=(NOON + 24 * H).date())
        ends = planned(self)[1]["says"]["ends"]
        self.assertLessEqual(max(ends.values()), (NOON + 29 * H).timestamp())
        # A promise in the past is late, and said so.
        Job.objects.update(promised=(NOON - 48 * H).date())
        planned(self)
        self.assertIn("promised Sun 10 May", text_of(self.client.get("/days/")))
        self.assertTrue(other.pk)

    def test_questions_to_the_database_do_not_grow_with_acts(self):
        _, proposal = planned(self)
        acts, zone = proposal["acts"], self.shop.zone.pk
        counts = []
        for n in (2, 90):
            more = [
                acts[0] | {"id": f"{zone}:x{k}:1", "step": f"x{k}", "begin": acts[0]["begin"] + 900 * k}
                for k in range(n)
            ]
            days.take_plan(self.shop.user, more, proposal["says"], days.held_plan().number if days.held_plan() else 0)
            with CaptureQueriesContext(connection) as queries:
                self.assertEqual(self.client.get("/days/").status_code, 200)
            counts.append(len(queries))
        self.assertLessEqual(counts[1], counts[0] + 1)
        self.assertLess(counts[1], 40)

    def test_the_range_that_was_said_before_stays_beside_the_new_one(self):
        _, proposal = planned(self)
        days.take_plan(self.shop.user, proposal["acts"], proposal["says"], 0)
        clock.freeze(NOON + H)
        planned(self)
        self.assertRegex(text_of(self.client.get("/days/")), r"in 8 of 10 ; said 12:00: Wed 13 May to \w+ \d+ May")
        # The air stands at 20 °C and 50 %, its dew point at 9.3: what nobody forecast is taken damp.
        self.assertIn("K over dew", text_of(self.client.get("/days/")))

    def test_what_cannot_be_planned_says_why(self):
        measureless = self.shop.make_zone("Wing")
        measureless.build_ups.first()
        Place.objects.create(name="Far booth", kind="booth")
        from emplastra.jobs.services import add_zone

        add_zone(self.shop.job, "Bonnet", self.shop.user, substrate="steel", thickness_mm=1.0, form="flat", finish_class="show",
                 shapes=measureless.revisions.first().shapes)  # fmt: skip
        _, proposal = planned(self)
        self.assertEqual([why for _, why in proposal["left_out"]], ["no plan yet"])
        self.assertIn("Bonnet , Trolley: no plan yet", text_of(self.client.get("/days/")))
        User.objects.update(bench_hours="none")
        _, proposal = planned(self)
        self.assertEqual(proposal["acts"], [])
        self.assertIn("nobody has hours at the bench", proposal["clash"]["sentence"])
        self.assertIn("nobody has hours at the bench", text_of(self.client.get("/days/")))


class MovedTests(ShopCase):
    def put(self, kind, act="s-strip:1", **more):
        data = {"token": f"{kind}{more}", "acts": f"{self.shop.zone.pk}:{act}", "kind": kind} | more
        return self.client.post("/days/put", data, follow=True)

    def setUp(self):
        super().setUp()
        self.tasks = []
        self.patch(
            planning,
            "begin",
            lambda user, why="": (
                self.tasks.append(why)
                or Task.objects.create(
                    user=user, kind="days", boot=tasks.BOOT, about={"view": "days:task", "doing": "", "file": ""}
                )
            ),
        )

    def patch(self, where, name, value):
        old = getattr(where, name)
        setattr(where, name, value)
        self.addCleanup(setattr, where, name, old)

    def test_on_a_day_at_an_hour_not_before_and_free_again(self):
        for kind, more, low, high in (
            ("day", {"day": "2026-05-14"}, 43, 53), ("wished", {"day": "2026-05-15"}, 60, 84), ("after", {"day": "2026-05-18"}, 132, 150),
            ("fixed", {"day": "2026-05-14", "hour": "09:30"}, 45.5, 45.6), ("pot", {}, 0, 5), ("free", {}, 0, 5),
        ):  # fmt: skip
            with self.subTest(kind):
                self.put(kind, **more)
                row = rows_of(planned(self)[1])["s-strip:1"]
                self.assertTrue(low <= hours_on(row["begin"]) <= high, hours_on(row["begin"]))
        self.assertEqual((len(self.tasks), ActDay.objects.count()), (6, 6))

    def test_what_cannot_be_put(self):
        for more, said in (
            ({"kind": "day", "day": "the fifth"}, "Day: write it as 2026-05-14"), ({"kind": "fixed", "day": "2026-05-14", "hour": "late"}, "is not a time"),
            ({"kind": "day", "day": "2026-05-14", "act": "x", "acts": "999:x:1"}, "there is no such act any more"), ({"kind": "never", "day": "2026-05-14"}, "must be one of"),
            ({"kind": "day", "day": "2026-05-14", "acts": ""}, "there is no such act any more"),
        ):  # fmt: skip
            with self.subTest(said):
                kind = more.pop("kind")
                self.assertIn(said, text_of(self.put(kind, **more)))
        self.assertEqual((ActDay.objects.count(), self.tasks), (0, []))

    def test_a_day_that_forbids_it_says_so(self):
        self.shop.tell(Kind.BARED, -1, -0.5, "s-strip", how="sander")
        self.shop.tell(Kind.DEGREASED, -0.4, -0.3, "s-wipe")
        self.shop.coat(-0.2, -0.1)
        # Its window closes on Wednesday at 11:48; Friday cannot be.
        self.put("day", act="s-prime:2", day="2026-05-15")
        clash = planned(self)[1]["clash"]
        self.assertIn("prime 2", clash["sentence"])
        self.assertIn("Wed 13 May 11:48", clash["sentence"])

    def test_hours_of_people(self):
        answer = self.client.post(
            "/days/hours/", FORM | {"kind": "away", "person": self.shop.user.pk, "note": "a cold"}, follow=True
        )
        self.assertIn("Away, bench: 12:00 to Thu 07:00 , a cold", text_of(answer))
        self.client.post(f"/days/hours/{self.shop.user.pk}/usual", {"bench_hours": "Mon-Wed 8-12"})
        crew = {p.name: p.there for p in gathered(Book()).days.shop.crew}
        self.assertEqual(
            [round(hours_on(a), 2) for a, _ in crew["bench"]][:2], [140, 164]
        )  # Monday and Tuesday next, 8:00
        self.assertEqual(round(hours_on(crew["mate"][0][0])), 0)
        row = HoursTold.objects.get()
        for _ in range(2):
            self.client.post(f"/days/hours/{row.pk}/back", {"token": "b"})
        self.assertEqual(days.hours_told(clock.now()), [])
        self.assertEqual(HoursTold.objects.count(), 2)
        for change, field in (
            ({"ends": "2026-05-12 11:00"}, "ends before it begins"), ({"kind": "away"}, "say who is away"), ({"kind": "warm"}, "say which place is warmed"),
            ({"begins": "soon"}, "is not a time"), ({"ends": "2028-05-12 11:00"}, "is longer than 400 days"),
        ):  # fmt: skip
            with self.subTest(field):
                answer = self.client.post("/days/hours/", FORM | {"token": field} | change)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(field, text_of(answer))
        answer = self.client.post(f"/days/hours/{self.shop.user.pk}/usual", {"bench_hours": "whenever"}, follow=True)
        self.assertIn("cannot be read", text_of(answer))
        self.client.force_login(self.shop.people["mate"])
        answer = self.client.post(f"/days/hours/{self.shop.user.pk}/usual", {"bench_hours": ""}, follow=True)
        self.assertIn("only an owner may do that", text_of(answer))
        with self.assertRaises(Refused):
            days.tell_hours(self.shop.people["viewer"], "shut", NOON, NOON + H)

    def test_guns_are_told_in_settings(self):
        self.client.force_login(self.shop.people["owner"])
        form = self.client.get("/settings/").context["form"]
        first = {name: form[name].value() if form[name].value() is not None else "" for name in form.fields}
        self.client.post("/settings/", first | {"guns": "3"})
        self.assertEqual(gathered(Book()).days.shop.things["gun"].count, 3)
        form = self.client.get("/settings/").context["form"]
        self.client.post("/settings/", first | {"token": form["token"].value(), "guns": ""})
        self.assertEqual(gathered(Book()).days.shop.things["gun"].count, 1)

    def test_how_the_piece_lies(self):
        self.client.post(f"/days/lies/{self.shop.zone.pk}", {"token": "l", "how": "over"})
        self.assertEqual({met.act.position for met in walk(gathered(Book()).days.faces[0])}, {"over"})
        self.assertIn("stands on firm ground", text_of(self.client.get("/days/hours/")))
        answer = self.client.post(f"/days/lies/{self.shop.zone.pk}", {"token": "m", "how": "afloat"}, follow=True)
        self.assertIn("must be one of", text_of(answer))

    def test_over_summer_time_hours_go_by_the_wall_clock(self):
        clock.freeze(NOON.replace(month=10, day=23))  # a Friday; the clock goes back on Sunday, 25 October 2026
        crew = gathered(Book()).days.shop.crew
        friday, monday = (span for span in crew[0].there[:2])
        self.assertEqual(monday[0] - friday[1], (2 * 24 + 14 + 1) * 3600)


class ClashTests(ShopCase):
    def test_why_it_cannot_be_and_the_ways_out(self):
        self.shop.tell(Kind.BARED, -1, -0.5, "s-strip", how="sander")
        self.shop.tell(Kind.DEGREASED, -0.4, -0.3, "s-wipe")
        self.shop.coat(-0.2, -0.1)
        told = days.tell_hours(self.shop.user, "shut", NOON, NOON + 43 * H, note="stocktaking")
        task, proposal = planned(self)
        clash = proposal["clash"]
        # Put on from 11:48, it may be coated again from 13:54 to 11:48 tomorrow; the shop is shut till Thursday 7:00.
        self.assertEqual(clash["sentence"], "Cab side, prime 2: the window of Test primer closes Wed 13 May 11:48")
        self.assertEqual(clash["reasons"], ["nobody is there Tue 12 May 12:00 to Thu 14 May 07:00"])
        ways = {
            way["words"].split(" Tue")[0].replace("mate in", "owner in").replace("bench in", "owner in"): way
            for way in clash["ways"]
        }
        self.assertEqual(
            set(ways), {"The shop open all the same", "owner in", "Let it close, key again before prime 2"}
        )
        self.assertEqual([way["missed"] for way in clash["ways"]], [0, 0, 0])
        # Keying 12 and wiping 2 min/m² with 10 min to set up, at 60 an hour.
        self.assertAlmostEqual(ways["Let it close, key again before prime 2"]["cost"], 24.0)
        page = text_of(self.client.get("/days/"))
        self.assertIn("1 window would be missed.", page)
        self.assertIn("nobody is there Tue 12 May 12:00 to Thu 14 May 07:00", page)
        self.assertIn("every window kept", page)
        begun = []
        old, planning.begin = planning.begin, lambda user, why="": begun.append(why) or task
        self.addCleanup(setattr, planning, "begin", old)
        for number, way in enumerate(clash["ways"]):
            with self.subTest(way["words"]):
                mark = HoursTold.objects.count(), ActDay.objects.count()
                self.client.post(f"/days/plan/{task.pk}/way/{number}", {"token": f"w{number}"})
                self.assertGreater((HoursTold.objects.count(), ActDay.objects.count()), mark)
                after = planned(self)[1]
                self.assertEqual((after["says"]["missed"], after["clash"]), ([], None))
                last = HoursTold.objects.order_by("-pk").first()
                if last.struck_id is None and last.pk != told.pk:
                    days.strike_hours(self.shop.user, last)
                if last.struck_id == told.pk:
                    told = days.tell_hours(self.shop.user, "shut", NOON, NOON + 43 * H)
        rows = rows_of(planned(self)[1])
        self.assertIn("key-s-prime-2:1", rows)
        self.assertEqual(self.client.post(f"/days/plan/{task.pk}/way/9").status_code, 404)


class ChildTests(TaskCase):
    def test_planned_beside_the_server_watched_and_good_enough(self):
        url = self.client.post("/days/plan").url
        self.assertEqual(self.client.post("/days/plan").url, url)  # one plan at a time
        self.assertEqual(self.client.post(f"{url}enough").status_code, 302)
        task = self.ended(url)
        self.assertEqual(task.state, "done", task.words)
        self.assertEqual(self.client.get(url).url, "/days/")
        self.assertIn("Trolley ready Wed 13 May", text_of(self.client.get("/days/")))

    def test_killed_in_the_middle_nothing_is_taken(self):
        url = self.client.post("/days/plan").url
        task = Task.objects.get()
        tasks.cancel(task)
        self.ended(url)
        self.assertIn("was stopped. Nothing of it was taken.", text_of(self.client.get(url)))
        self.assertIn("Nothing is planned yet", text_of(self.client.get("/days/")))
        answer = self.client.post(f"{url}enough", follow=True)
        self.assertIn("it has ended already", text_of(answer))


class CalendarTests(ShopCase):
    """The feed read back by a second parser, of another library."""

    def made(self, **more):
        form = {"token": f"c{more}", "lead_min": "45", "quiet_from": "21:00", "quiet_to": "06:00"} | more
        answer = self.client.post("/days/calendar/", form, follow=True)
        found = re.search(r"(/feeds/[\w-]+\.ics)", answer.content.decode())
        return found[1] if found else ""

    def events(self, url):
        answer = self.client_class().get(url)  # nobody is signed in
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "text/calendar; charset=utf-8"))
        return {str(e.uid.value): e for e in vobject.readOne(answer.content.decode()).vevent_list}

    def test_acts_windows_and_looks(self):
        _, proposal = planned(self)
        plan = days.take_plan(self.shop.user, proposal["acts"], proposal["says"], 0)
        put_off(
            self.shop.zone,
            self.shop.user,
            "put-off",
            "chip at the sill",
            "waits for parts",
            NOON.date() + timedelta(days=9),
        )
        self.shop.tell(Kind.BARED, -1, -0.5, "s-strip", how="sander")
        url = self.made()
        found = self.events(url)
        mine = [row for row in plan.acts if row["who"] == "bench"]
        for row in mine:
            event = found[f"act-{row['id']}@emplastra"]
            self.assertEqual(event.dtstart.value.timestamp(), row["begin"])
            self.assertEqual(event.dtend.value.timestamp(), row["end"])
            self.assertIn("Cab side", event.summary.value)
            self.assertEqual(event.sequence.value, str(plan.number))
            self.assertEqual(row["begin"] - event.valarm.trigger.value.timestamp(), 45 * 60)
        self.assertFalse({f"act-{row['id']}@emplastra" for row in plan.acts if row["who"] != "bench"} & set(found))
        # The window is the one that the zone's own page tells.
        window, state = found[f"window-{self.shop.zone.pk}@emplastra"], zone_state(self.shop.zone)[0]
        self.assertEqual(window.dtstart.value.timestamp(), int(state.clock.closes_s))
        self.assertEqual(window.summary.value, "Cab side: primer due")
        look = next(e for uid, e in found.items() if uid.startswith("look-"))
        self.assertEqual(look.dtstart.value, NOON.date() + timedelta(days=9))
        # The uid of an act stays from plan to plan.
        clock.freeze(NOON + H / 12)
        again = planned(self)[1]
        days.take_plan(self.shop.user, again["acts"], again["says"], 1)
        self.assertEqual(
            {u for u in self.events(url) if u.startswith("act-")},
            {f"act-{r['id']}@emplastra" for r in again["acts"] if r["who"] == "bench"},
        )

    def test_an_address_is_told_once_revoked_and_nobody_else_s(self):
        url = self.made()
        self.assertNotIn("/feeds/", self.client.get("/days/calendar/").content.decode())
        self.assertEqual(self.client_class().get(url).status_code, 200)
        second = self.made(lead_min="10")
        self.assertEqual([self.client_class().get(u).status_code for u in (url, second)], [404, 200])
        self.client.post("/days/calendar/revoke", {"token": "r"})
        self.assertEqual(self.client_class().get(second).status_code, 404)
        self.assertEqual(self.client_class().get("/feeds/x.ics").status_code, 404)
        third = self.made(lead_min="11")
        User.objects.filter(pk=self.shop.user.pk).update(is_active=False)
        self.assertEqual(self.client_class().get(third).status_code, 404)
        self.assertNotIn(third.split("/")[-1].removesuffix(".ics"), str(list(FeedLink.objects.values())))
        self.client.force_login(self.shop.people["viewer"])  # who may look may have a calendar too
        self.assertEqual(self.client_class().get(self.made(lead_min="5")).status_code, 200)
        for field, value in (("lead_min", "-5"), ("quiet_from", "late")):
            answer = self.client.post("/days/calendar/", {"token": "x", "lead_min": "45", "quiet_from": "21:00", "quiet_to": "06:00", field: value})  # fmt: skip
            self.assertEqual(answer.status_code, 422)

    def test_alarms_over_a_change_of_summer_time(self):
        zone = ZoneInfo("Europe/Vienna")
        for at, lead, rings in (
            # The clock goes back at 3:00 on 25 October 2026: an hour before 3:30 is the first 3:30 − 1 h, by real time.
            (datetime(2026, 10, 25, 12, 0, tzinfo=zone), 60, datetime(2026, 10, 25, 11, 0, tzinfo=zone)),
            (datetime(2026, 10, 25, 6, 30, tzinfo=zone), 60, datetime(2026, 10, 24, 21, 0, tzinfo=zone)),
            (datetime(2026, 3, 29, 6, 0, tzinfo=zone), 0, datetime(2026, 3, 29, 6, 0, tzinfo=zone)),
            (datetime(2026, 3, 29, 23, 0, tzinfo=zone), 30, datetime(2026, 3, 29, 21, 0, tzinfo=zone)),
        ):
            with self.subTest(at):
                found = rings_at(at, lead, 21 * 60, 6 * 60, zone)
                self.assertEqual(found.timestamp(), rings.timestamp())
        by_day = rings_at(datetime(2026, 5, 12, 13, 30, tzinfo=zone), 15, 12 * 60, 14 * 60, zone)
        self.assertEqual(by_day.astimezone(zone).hour, 12)

    def test_a_sheet_of_a_day(self):
        self.assertIn("No plan was taken yet", text_of(self.client.get("/days/sheet")))
        _, proposal = planned(self)
        days.take_plan(self.shop.user, proposal["acts"], proposal["says"], 0)
        page = text_of(self.client.get("/days/sheet?day=2026-05-12"))
        self.assertIn("Tue 12 May 2026", page)
        self.assertIn("Cab side: strip", page)
        self.assertIn("Nothing is planned for this day", text_of(self.client.get("/days/sheet?day=2026-05-17")))
        self.assertEqual(self.client.get("/days/sheet?day=never").status_code, 200)


class MoneyTests(ShopCase):
    def test_hours_paint_and_what_was_paid_as_a_range(self):
        # An hour of baring logged, at 60 an hour; the rest of the plan by the overrun of 1.5 that is assumed, range 1.6.
        self.shop.tell(Kind.BARED, -2, -1, "s-strip", how="sander")
        book = Book()
        found = money_of(book, self.shop.job)
        rows = {row.kind: row for row in found.work}
        self.assertAlmostEqual(rows["strip"].done_h, 1.0)
        # Two coats by brush, 24 min each planned; nothing of a fifth more, for it is bared.
        prime = rows["prime"].to_come
        self.assertAlmostEqual(prime.mid, 2 * 24 / 60 * 1.5)
        self.assertAlmostEqual(prime.low, prime.mid / 1.6)
        self.assertAlmostEqual(prime.high, prime.mid * 1.6)
        wipe = 13 / 60 * 1.5
        self.assertAlmostEqual(found.to_come_h.mid, prime.mid + wipe)
        self.assertAlmostEqual(found.so_far, 60.0)
        self.assertIn("Test primer", found.unpriced)
        self.client.post(
            f"/jobs/{self.shop.job.pk}/money/", {"token": "a", "kind": "contractor", "what": "Dip", "amount": "200"}
        )
        self.client.post(
            f"/jobs/{self.shop.job.pk}/money/",
            {"token": "b", "kind": "other", "what": "Freight", "amount": "30", "still": "on"},
        )
        found = money_of(Book(), self.shop.job)
        self.assertEqual((found.so_far, found.owed), (260.0, 30.0))
        self.assertAlmostEqual(found.whole.low, 260 + 30 + 60 * (prime.low + wipe / 1.6))
        page = text_of(self.client.get(f"/jobs/{self.shop.job.pk}/money/"))
        self.assertIn("So far 260 €", page)
        self.assertIn("Contractor: Dip, 200.00 €", page)
        row = Paid.objects.get(what="Dip")
        for _ in range(2):
            self.client.post(f"/paid/{row.pk}/back", {"token": "c"})
        self.assertEqual(money_of(Book(), self.shop.job).so_far, 60.0)
        for change, said in (
            ({"amount": "0"}, "greater than or equal to 0.01"),
            ({"what": ""}, "This field is required"),
            ({"kind": "gift"}, "Select a valid choice"),
        ):
            answer = self.client.post(
                f"/jobs/{self.shop.job.pk}/money/",
                {"token": said, "kind": "other", "what": "x", "amount": "5"} | change,
            )
            self.assertEqual(answer.status_code, 422)
            self.assertIn(said, text_of(answer))

    def test_paint_that_was_poured_is_priced_by_its_cheapest_tin(self):
        sheet = PRIMER | {
            "tins": [
                {"component": "base", "ml": 1000, "price": 40.0},
                {"component": "base", "ml": 4000, "price": 100.0},
            ]
        }
        add_sheet(sheet | {"product": "Priced"})
        product = Product.objects.get(name="Priced")
        pot = self.shop.tell(
            Kind.POT,
            -1,
            -1,
            revision=product.revisions.first(),
            variant="mild",
            method="brush",
            ready_ml=200.0,
            temp_c=20.0,
        )
        self.shop.tell(Kind.WEIGHED, -0.9, -0.9, pot=pot, part="base", scale_g=150.0)
        self.shop.tell(Kind.WEIGHED, -0.8, -0.8, pot=pot, part="hardener", scale_g=175.0)
        found = money_of(Book(), self.shop.job)
        # 150 g of base at 1.5 g/mL are 100 mL, at 25 a litre; nobody priced the hardener.
        self.assertAlmostEqual(found.used, 2.5)
        self.assertIn("Priced", found.unpriced)

    def test_what_took_longer_lengthens_what_comes(self):
        before = planned(self)[1]["acts"]
        for _ in range(4):
            estimates.tell_hours(self.shop.user, "prime", 1.0, 3.0)
        after = planned(self)[1]["acts"]
        lengths = [{r["id"]: r["end"] - r["begin"] for r in rows} for rows in (before, after)]
        coat = f"{self.shop.zone.pk}:s-prime:1"
        # f = exp((4 ln 3 + 4 ln 1.5) / 8) = sqrt(4.5), beside 1.5 before anything was told.
        self.assertAlmostEqual(lengths[1][coat] / lengths[0][coat], 4.5**0.5 / 1.5, places=3)
