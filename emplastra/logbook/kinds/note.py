"""Something worth remembering, in words and with a photo."""

from django import forms
from django.db import models

from emplastra.jobs import photos
from emplastra.jobs.models import Photo
from emplastra.shared.fields import file_input

from ..forms import UnplannedForm
from ..kind import Detail, EntryKind, of_entry


class Noted(Detail):
    """The photo of a note; its words are the entry's own."""

    entry = of_entry("note_kept")
    photo = models.ForeignKey(Photo, on_delete=models.PROTECT, null=True, related_name="+")


class NoteForm(UnplannedForm):
    """What is worth remembering."""

    photo = forms.FileField(
        label="Photo",
        required=False,
        widget=file_input(photos.MAX_BYTES, accept="image/*", capture="environment"),
        help_text="JPEG, PNG or WebP, up to 15 MB; the place that the camera wrote into it is taken out.",
    )
    order = ("note", "photo")

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        note = self.fields["note"]
        note.label, note.required, note.widget = "Worth remembering", True, forms.Textarea(attrs={"rows": 3})
        note.error_messages["required"] = "write what is worth remembering"


class Kind(EntryKind):
    key, label, group, order = "note", "Note", "look", 190
    name, row, form, related = "note_kept", Noted, NoteForm, ("note_kept__photo",)

    def prepare(self, data):
        return photos.clean(data["photo"].read()) if data.get("photo") else None

    def details(self, data, about):
        told, picture = about.of(self), data["prepared"]
        if picture is not None:
            return {"photo": photos.keep(about.zone, about.user, picture, Photo.When.DURING, data["note"])}
        return {"photo": told.photo if told else None}

    def photo(self, entry):
        return entry.note_kept.photo
