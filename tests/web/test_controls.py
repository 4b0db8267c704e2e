"""Controls drawn in code are what the framework's own templates make of them."""

from django import forms
from django.forms.renderers import DjangoTemplates
from django.test import SimpleTestCase

from emplastra.shared.controls import InCode

ODD = 'a "b" <c> & ’d’'
CHOICES = [("", "Not yet"), (ODD, ODD), ("Group", [("1", "One"), (2, "Two")])]


class Every(forms.Form):
    """Each control that the application uses, with names and values that must be escaped."""

    text = forms.CharField(max_length=5, widget=forms.TextInput(attrs={"data-x": ODD, "autofocus": True, "x": False}))
    number = forms.IntegerField(min_value=0)
    hidden = forms.CharField(widget=forms.HiddenInput)
    list = forms.ChoiceField(choices=CHOICES)
    radio = forms.ChoiceField(choices=CHOICES, widget=forms.RadioSelect)
    ticks = forms.MultipleChoiceField(choices=CHOICES[:2], widget=forms.CheckboxSelectMultiple)
    tick = forms.BooleanField()
    long = forms.CharField(widget=forms.Textarea)


class ControlTests(SimpleTestCase):
    def test_each_control_is_what_its_template_makes(self):
        values = {"text": ODD, "number": 3, "hidden": ODD, "list": ODD, "radio": "2", "ticks": [ODD], "long": ODD}
        for kwargs in ({}, {"initial": values}, {"data": values}, {"prefix": ODD}):
            ours, theirs = (Every(renderer=renderer, **kwargs) for renderer in (InCode(), DjangoTemplates()))
            for name in ours.fields:
                with self.subTest(name, **kwargs):
                    self.assertHTMLEqual(str(ours[name]), str(theirs[name]))
                    for mine, plain in zip(ours[name], theirs[name], strict=True):
                        self.assertHTMLEqual(mine.tag(), plain.tag())
                    self.assertEqual(ours[name].as_widget(attrs={"aria-label": ODD}).count("<c>"), 0)
