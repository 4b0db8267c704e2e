"""Forms of the hand-over."""

from django import forms as plain

from emplastra.jobs import handing
from emplastra.shared.fields import WorkshopForm


class DossierForm(WorkshopForm):
    """What of a job is told to its owner."""

    parts = plain.MultipleChoiceField(
        label="What is told", choices=list(handing.PARTS.items()), widget=plain.CheckboxSelectMultiple
    )
    words = plain.CharField(
        label="Your own words",
        required=False,
        max_length=handing.MOST_WORDS,
        widget=plain.Textarea(attrs={"rows": 4}),
        help_text="They stand on the cover.",
    )
