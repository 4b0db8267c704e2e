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

WORDS = (
    ("lifeline", "Lifeline", "The hours of one zone from left to right: what its film does, when it opens and when it closes. The red line is now."),
    ("ruling", "Ruling", "What the rules say of one act on one face: clean, advises, warns, stops, or not judged because something was not told."),
    ("comb", "Comb", "A ruling as a row of teeth, one for each thing that was looked at: flat is clean, a notch advises, a wedge warns, a block stops, dots are not judged."),
    ("days", "Days", "The work that is open as a plan: each day a sheet as tall as its hours, each face’s work a layer as thick as it takes, with every window kept by the clock."),
    ("zone", "Zone", "One face of the piece, as it is stripped, coated and recorded. A spot is a small place in it with a plan of its own."),
    ("core-sample", "Core sample", "The build-up from the metal upward as if cut through, plan beside fact; each family of paint has its own hatch."),
    ("school", "School", "A way of working on which practitioners differ, such as epoxy before filler or after it. A job answers which one it follows."),
    ("coverage", "Coverage", "How much of the piece was looked at: seen with the eye, judged through paint or by feel, and not seen. What was not seen is not said to be sound."),
    ("put-off", "Put off", "What is left as it is for now, with a reason and a day on which somebody looks again; Bench says when that day has come."),
    ("not-judged", "Not judged", "Nobody told what the rule needs, so it says nothing. That is never the same as clean."),
    ("route", "Route", "The nine stages of the work in their order. A zone stands at the stage of the first step of its plan that is not done."),
    ("act-by", "Act by", "The latest moment to begin so that the coat is on in time: the closing hour less mixing, waiting after stirring, and spraying."),
    ("at-once", "At once", "The button records by itself, at the hour of the tap. Undo stands beside it for ten minutes."),
    ("basis", "Basis", "Where a figure comes from: measured and data-sheet figures stand plain, estimated ones on dashes, forecasts on a wave, assumed ones slant."),
    ("holding-coat", "Holding coat", "A coat that only keeps the metal until work goes on; it has a day on which somebody looks at it."),
)  # fmt: skip
"""(anchor, our word, what it means)."""
