"""Where things are: the tools, the tabs of a job and of a zone, and the pages under each tab."""

from dataclasses import dataclass

from .links import Go


@dataclass(frozen=True)
class Page:
    """A page: its name, the name of its address, more of its address, and other addresses that stand under it."""

    name: str
    address: str
    more: tuple = ()
    also: tuple[str, ...] = ()
    of_all: bool = False
    """True for a page of the whole workshop, which takes no job or zone."""

    def go(self, pk):
        """The page of this job or zone."""
        return Go(self.address, self.more if self.of_all else (pk, *self.more))

    def is_at(self, address):
        """True if the address is this page's, or stands under it."""
        return address == self.address or address in self.also


@dataclass(frozen=True)
class Tab:
    """A tab: its name and its pages, the first of which it opens."""

    name: str
    pages: tuple[Page, ...]


TOOLS = (
    Page("Bench", "bench:home", also=("bench:rows",)),
    Page("Jobs", "bench:jobs", also=("jobs:new", "handover:bring")),
    Page("Windows", "bench:windows"),
    Page("Days", "days:days", also=("days:task", "days:hours", "days:calendar", "days:sheet")),
    Page("Mix", "bench:mix"),
    Page("Log", "bench:log"),
    Page("Air", "climate:air", also=("climate:reading", "climate:import", "climate:shape")),
    Page("Store", "tins:store", also=("tins:take-in", "tins:from-file", "tins:tin", "tins:labels")),
    Page("More", "bench:more"),
)
FOOT = ("Bench", "Jobs", "Mix", "Log", "More")
"""Tools on the foot bar of a phone."""
KEYS = {
    "Bench": "b",
    "Jobs": "j",
    "Windows": "w",
    "Days": "d",
    "Mix": "m",
    "Log": "l",
    "Air": "a",
    "Store": "s",
    "More": "o",
}

MORE = (
    (
        Page(
            "Materials",
            "materials:list",
            also=(
                "materials:product",
                "materials:kinds",
                "materials:new",
                "materials:revise",
                "materials:compare",
                "materials:retire",
                "materials:paste",
                "materials:import",
            ),
        ),
        "sheets, what is on the shelf",
    ),
    (
        Page("Systems", "plans:systems", also=("plans:system", "plans:new-system", "plans:edit-system", "plans:apply")),
        "what goes on what, in which order",
    ),
    (Page("Quantities", "plans:quantities"), "what all open jobs still take, and whether a tin is enough"),
    (Page("Sheet of today", "bench:sheet"), "what is due, on paper, with room for a pencil"),
    (Page("Rules", "metal:rules"), "what they look at, schools"),
    (Page("Contractor", "survey:contractor"), "what is given away, and when it is due"),
    (Page("Put off", "survey:put-offs"), "what waits, and when to look again"),
    (Page("Did it hold", "handover:held"), "what was seen when somebody looked again after years, by system"),
    (Page("Hours", "metal:hours"), "what was planned, what it took"),
    (
        Page("Practice", "practice:home", also=("practice:run",)),
        "a made-up piece in made-up weather: try it there first",
    ),
    (Page("Record", "record:home"), "everything that was logged, by job"),
    (Page("Help", "bench:help"), "our words, the shapes, the keys"),
    (
        Page("You", "accounts:you", also=("accounts:own-password", "accounts:factor", "accounts:factor-off")),
        "your password, a second factor, where you are signed in",
    ),
    (
        Page(
            "Settings",
            "accounts:settings",
            also=(
                "accounts:people",
                "accounts:add-person",
                "accounts:log",
                "climate:places",
                "scales:list",
                "scales:try",
                "upkeep:keeping",
            ),
        ),
        "workshop, people, places, scales, backups, security log",
    ),
)

JOB = (
    Tab(
        "Map",
        (
            Page("Map", "survey:map"),
            Page("What if", "plans:job-what-if"),
            Page("Quantities", "plans:job-quantities"),
            Page("Taken off", "survey:parts"),
            Page("Contractor", "survey:contractor", of_all=True),
            Page("Put off", "survey:put-offs", of_all=True),
            Page("New zone", "jobs:new-zone"),
            Page("Name, standard, promise", "jobs:edit", also=("jobs:copy",)),
        ),
    ),
    Tab(
        "Inspect",
        (
            Page("Findings", "survey:findings"),
            Page("Survey", "survey:start"),
            Page("Report", "survey:report", also=("survey:take-in",)),
        ),
    ),
    Tab(
        "Decide",
        (
            Page("Verdict and quote", "metal:verdict"),
            Page("Access", "metal:access"),
            Page("Money", "days:money"),
            Page("Hours", "metal:hours", of_all=True),
        ),
    ),
    Tab(
        "Colour",
        (
            Page("Colour", "colour:colour", also=("colour:tell", "colour:card", "colour:group")),
            Page("Blend", "colour:blend"),
            Page("Masking", "colour:masking"),
        ),
    ),
    Tab(
        "Record",
        (
            Page("Record", "record:job"),
            Page("Dossier", "handover:dossier"),
            Page("Care", "handover:care"),
            Page("Look again", "handover:again"),
            Page("Archive", "handover:archive"),
        ),
    ),
)

ZONE = (
    Tab("Now", (Page("Now", "work:now", also=("work:missed",)),)),
    Tab(
        "Plan",
        (
            Page("Build-up", "plans:build-up"),
            Page("Strip plan", "metal:strip"),
            Page("Treatment", "metal:treat"),
            Page("Solder", "metal:solder"),
            Page("Seams and wax", "colour:finish"),
            Page("What if", "plans:zone-what-if"),
            Page("Quantities", "plans:zone-quantities"),
            Page("Mix", "work:mix"),
            Page("Pots", "work:pots"),
            Page("Measures", "jobs:edit-zone"),
        ),
    ),
    Tab(
        "Inspect",
        (
            Page("Survey", "survey:sheet", ("found",), also=("survey:finding",)),
            Page("Found more", "survey:more"),
            Page("Photo", "survey:add-photo"),
            Page("Copy before cutting", "handover:copy"),
            Page("Put off", "survey:put-off"),
        ),
    ),
    Tab(
        "Film",
        (
            Page("Film", "measure:film"),
            Page("Pass", "colour:pass"),
            Page("Faults", "colour:faults"),
            Page("Level", "measure:level"),
            Page("Heat", "measure:heat"),
        ),
    ),
    Tab(
        "Record",
        (
            Page("Record", "record:zone"),
            Page("Look again", "handover:look-again"),
            Page("Shares the cause", "handover:shares"),
        ),
    ),
)


@dataclass(frozen=True)
class Shown:
    """A tab or page as it is shown: its name, where it leads, whether one is there."""

    name: str
    go: Go
    here: bool


def tabs_at(tabs, pk, address):
    """([Shown] of the tabs, [Shown] of the pages under the one that one is in). address: the name of the page's own."""
    at = next((tab for tab in tabs if any(page.is_at(address) for page in tab.pages)), None)
    shown = [Shown(tab.name, tab.pages[0].go(pk), tab is at) for tab in tabs]
    pages = at.pages if at is not None and len(at.pages) > 1 else ()
    return shown, [Shown(page.name, page.go(pk), page.is_at(address)) for page in pages]
