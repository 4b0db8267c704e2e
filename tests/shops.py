"""Workshops by chance: made, worked in by following what the pages say to do next, and held against themselves."""

import html
import random
import re

from django.urls import reverse

from emplastra.accounts.models import Role, User, Workshop
from emplastra.climate.models import Place
from emplastra.climate.services import note_reading
from emplastra.jobs.models import Job, Zone
from emplastra.jobs.services import add_zone, adopt_system
from emplastra.logbook.models import KINDS, Entry
from emplastra.materials.selectors import systems
from emplastra.say.book import Book
from emplastra.shared import clock
from tests.base import NOON, PASSWORD, drop_caches
from tests.pages import foreign, sent, texts_of, walk

METALS = ("steel", "cast iron", "aluminium", "stainless", "zinc", "laminate", "old film")
PARTS = ("skin", "box", "channel", "lip", "door", "casting", "tube", "other")
UNPOURED = {"unmixed"}
"""Said of a coat for which no pot is named yet: Now takes it that one will be mixed."""
ODD = re.compile(r"\ue000|\b(?:nan|inf)\b|None (?:µm|mil|mm|mL|g|°|%|min|h)\b|[{<]\w+[}>]")
"""What no page may show."""
OFTEN = ("keyed", "degreased", "checked", "inspected", "note", "dried", "rinsed", "moved", "bared", "coat", "done")


class ShopByChance:
    """A workshop made and worked in by a seed; `client` is signed in as its owner."""

    def __init__(self, client, seed):
        self.client, self.chance, self.seed = client, random.Random(seed), seed
        self.said, self.surveys, self.struck = [], 0, 0

    def build(self):
        """Places, zones of every kind, most of them with a system."""
        chance = self.chance
        drop_caches()
        clock.freeze(NOON)
        at = chance.choice([(None, None), (48.2, 16.4), (-33.9, 151.2), (69.6, 18.9)])
        units = chance.choice(["metric", "us"])
        Workshop.objects.create(name="By chance", time_zone="Europe/Vienna", units=units, latitude=at[0], longitude=at[1])  # fmt: skip
        self.user = User.objects.create_user("owner", password=PASSWORD, role=Role.OWNER)
        self.client.force_login(self.user)
        self.places = [Place.objects.create(name=n, kind=k) for n, k in (("Booth", "booth"), ("Yard", "yard"))]
        for n in range(chance.randint(1, 2)):
            job = Job.objects.create(
                name=f"Piece {n}", standard=chance.choice(["drive", "show", "factory", "preserve"])
            )
            for k in range(chance.randint(1, 3)):
                self._zone(job, f"Face {n}{k}")
        return self

    def _zone(self, job, name):
        chance = self.chance
        size = {"length": chance.randint(20, 3000), "width": chance.randint(20, 2000)}
        measures = {
            "substrate": chance.choice([*METALS, "steel", "steel", "steel"]),
            "thickness_mm": chance.choice([0.8, 1.2, 3.0, 12.0]),
            "form": chance.choice(["flat", "frame", "tube"]),
            "profile": chance.choice(["sanded", "blasted fine", "blasted coarse"]),
            "finish_class": chance.choice(["show", "open", "below", "covered"]),
            "part": chance.choice(PARTS),
            "shapes": [{"kind": "flat", "dims": size, "count": chance.choice([1, 1, 4])}],
        }
        zone = add_zone(job, name, self.user, **measures)
        if chance.random() < 0.85:
            adopt_system(zone, self.user, chance.choice(systems()))
        if chance.random() < 0.9:
            self.log(zone, "moved", place=str(chance.choice(self.places).pk))
        return zone

    def log(self, zone, kind, query="", **values):
        """Log on a zone what the page of a kind offers, with some values of our own; True if it was recorded."""
        url = f"{reverse('work:log', args=[zone.pk, kind])}{query}"
        page = self.client.get(url)
        if page.status_code != 200 or "form" not in page.context:
            return False
        form = page.context["form"]
        data = sent(form) | {"anyway": "by chance", "confirm_old": "on"} | values
        if "grit" in form.fields and not data.get("grit"):
            data["grit"] = self.chance.choice(["P80", "P240", "P400"])
        for name, field in form.fields.items():
            choices = [key for key, _ in getattr(field, "choices", ()) if key]
            if choices and name in form.order and self.chance.random() < (0.3 if data.get(name) else 0.9):
                data[name] = self.chance.choice(choices)
        answer = self.client.post(url, data)
        return answer.status_code == 302

    def work(self, steps):
        """So many acts, most of them what Bench says comes next."""
        for _ in range(steps):
            clock.advance(minutes=self.chance.choice([1, 5, 20, 60, 60, 300, 900, 3000, 20000]))
            if self.chance.random() < 0.4:
                air, rh = self.chance.uniform(-5, 32), self.chance.uniform(25, 99)
                note_reading(self.user, self.chance.choice(self.places), clock.now(), air, rh)
            zone = self.chance.choice(list(Zone.objects.all()))
            (act, link), luck = self._next(zone), self.chance.random()
            go = re.search(r"/(?:log/)?([\w-]+)(\?[^\"]*)?$", link)
            if luck < 0.1:
                self.look_round(zone)
            elif luck < 0.15:
                self.strike()
            elif act and luck < 0.8:
                self.client.post("/acts", {"act": act, "seen": 10**6})
            elif go and go[1] in {*KINDS, "mix"} and luck < 0.8:
                self.log(zone, "coat" if go[1] == "mix" else go[1], go[2] or "")
            else:
                self.log(zone, self.chance.choice(OFTEN))

    def look_round(self, zone):
        """Some questions of a survey, answered."""
        url = f"/zones/{zone.pk}/survey/{self.chance.choice(['found', 'bared'])}"
        page = self.client.get(url).content.decode()
        hidden = dict(re.findall(r'type="hidden"\s+name="([\w-]+)"\s+value="([^"]*)"', page))
        offered = {}
        for tag in re.findall(r"<input[^>]*type=\"(?:radio|checkbox)\"[^>]*>", page):
            name, value = re.search(r'name="([\w-]+)"', tag), re.search(r'value="([^"]*)"', tag)
            if name and value and value[1]:
                offered.setdefault(name[1], []).append(value[1])
        told = {name: self.chance.choice(values) for name, values in offered.items() if self.chance.random() < 0.4}
        self.surveys += self.client.post(url, hidden | told).status_code == 302

    def strike(self):
        """The newest entry voided, with what rests on it."""
        entry = Entry.objects.known_at().order_by("id").last()
        if entry is not None:
            url = f"/entries/{entry.pk}/void"
            together = len(self.client.get(url).context["dependants"])
            self.struck += self.client.post(url, {"reason": "by chance", "together": together}).status_code == 302

    def _next(self, zone):
        """(what the button of the act sends that comes next on a zone, where it leads): one of them."""
        page = self.client.get(f"/zones/{zone.pk}/log/").content.decode().split("Comes next")[-1].split("</section>")[0]
        found = [re.search(pattern, page) for pattern in (r'name="act" value="([^"]+)"', r'href="([^"]+)"')]
        return tuple(html.unescape(one[1]) if one else "" for one in found)

    def faults(self):
        """What pages of one workshop say that does not agree, as sentences; empty if all do."""
        self.said = []
        states = {state.zone.pk: state for state in Book().states()}
        for pk, state in states.items():
            self._one_voice(pk, state)
        self._amounts(list(states))
        self._rebuilt(states)
        system = Workshop.current().units
        for address, page in walk(self.client, 1):
            if left := {text for text in foreign(page, system) if "by chance" not in text}:
                self.said.append(f"{address} speaks in other units: {sorted(left)[:3]}")
            if odd := [text for text in texts_of(page) if ODD.search(text)]:
                self.said.append(f"{address} shows what is no word: {odd[:3]}")
        return self.said

    def _one_voice(self, pk, state):
        """Bench, Now, Build-up and the form of the next act say the same of a zone."""
        sentence = re.sub(r"\s+", " ", "".join(text for text, _ in state.say)).split("\ue000")[0]
        for address in (f"/zones/{pk}/", f"/zones/{pk}/plan", f"/zones/{pk}/log/"):
            page = re.sub(r"<[^>]+>", "", self.client.get(address).content.decode())
            if sentence not in re.sub(r"\s+", " ", html.unescape(page)):
                self.said.append(f"{address} does not say: {sentence}")
        kind = KINDS.get(getattr(state.next_kind, "entry", "")) if state.next_step else None
        if kind is None or not state.ruled or kind.key not in {"coat", "bared", "keyed", "degreased"}:
            return
        context = self.client.get(f"/zones/{pk}/log/{kind.key}").context
        told = context.get("consequence", {}) if kind.key == "coat" else context
        ruled = told.get("ruled") if told else None
        here, there = ({v.rule for v in r.open} - UNPOURED if r else set() for r in (state.ruled, ruled))
        if ruled is not None and here != there:
            self.said.append(f"zone {pk}: Now says {sorted(here - there)}, log of {kind.key} {sorted(there - here)}")

    def _amounts(self, zones):
        """What a zone takes is the same on its plan and among quantities, and a job takes what its zones do."""
        alone = {pk: self.client.get(f"/zones/{pk}/quantities").context["whole"] for pk in zones}
        for pk, bill in alone.items():
            needs = self.client.get(f"/zones/{pk}/plan").context["needs"]
            mixed = sum(n.mixed_ml for n in needs if hasattr(n, "mixed_ml"))
            if abs(mixed - bill.mixed_ml) > 1e-6:
                self.said.append(f"zone {pk} takes {mixed} mL on its plan, {bill.mixed_ml} among quantities")
        whole = self.client.get("/quantities/").context["whole"]
        if abs(whole.mixed_ml - sum(b.mixed_ml for b in alone.values())) > 1e-6 or whole.cost != sum(b.cost for b in alone.values()):  # fmt: skip
            self.said.append("all jobs take not what their zones do")

    def _rebuilt(self, states):
        """State made anew from the log alone says the same."""
        drop_caches()
        for state in Book().states():
            before = states[state.zone.pk]
            if (state.say, state.surface) != (before.say, before.surface):
                self.said.append(f"zone {state.zone.pk} rebuilt: {before.say} became {state.say}")
