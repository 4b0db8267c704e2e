"""Importing a log."""

from django import forms

from emplastra.shared.fields import WorkshopForm

from .models import Place


class ImportForm(WorkshopForm):
    """A log file for a place."""

    place = forms.ModelChoiceField(Place.objects.filter(in_use=True), label="Place", empty_label=None)
    file = forms.FileField(
        label="Log file (CSV)",
        help_text="Header: time, air_c, rh_pct and, if logged, surface_c. Times with their offset: 2026-05-12T09:40:00+02:00",
    )
