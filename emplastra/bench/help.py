"""What the Help page says: our words, the shapes of states and of the lifeline, in the order one meets them in."""

STATES = (
    (
        "stopped",
        "Something speaks against the next act so that it is not to be done; its button leads to what mends it.",
    ),
    ("keep-wet", "Acid stands on it: wet it again before it dries, rinse when its time is up."),
    ("bare", "Metal lies bare and rusts on; the hour is when a primer is due in this air."),
    ("closing", "The next coat may still go on, and from a moment on no more."),
    ("missed", "Closed: it is keyed before it takes a coat again."),
    ("open", "It may have its next coat now."),
    ("waiting", "Its film is not ready for what comes next; the hour is when it opens."),
    ("away", "It is with a contractor: its clocks stand still."),
    ("resting", "Nothing is to be done to it."),
)
"""(state, what it means)."""

LINES = (
    ("wet", "it flashes off or stands wet"),
    ("wait", "it waits"),
    ("open", "the next coat may go on"),
    ("closing", "it narrows to the moment at which it closes"),
    ("missed", "closed, or shut in the middle"),
    ("bare", "bare metal"),
    ("solid", "the air of these hours was measured"),
    ("long", "bridged between readings, or held"),
    ("dashed", "by a forecast"),
    ("dotted", "assumed"),
)
"""(a shape of the lifeline, what it stands for)."""
