"""The one way a form is shown, checked and carried out."""

import hashlib
import sys

from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.template.loader import render_to_string
from django.views import View

from . import standing
from .middleware import stopped
from .services import AlreadyRecorded, Refused, new_token, once


class OnceView(View):
    """Show a form on GET; on POST carry it out once and go to where it leads.

    Subclasses give `form_class`, `template`, `action`, and `carry_out(form)`, which returns a URL.
    An invalid form answers 422, an old token with other values 409; what was typed is kept.
    """

    form_class = None
    template = "shared/form_page.html"
    action = ""
    heading = ""
    button = "Save"
    done = "Recorded."

    def initial(self):
        """First values of the form."""
        return {}

    def form_kwargs(self):
        """More arguments for the form."""
        return {}

    def make_form(self, data=None):
        """The form, bound if there is data."""
        files = self.request.FILES or None if data is not None else None
        return self.form_class(
            data, files, initial=self.initial(), workshop=self.request.workshop, **self.form_kwargs()
        )

    def prepare(self, form):
        """What takes time and needs no database: reading, decoding, hashing. `carry_out` finds it as
        `self.prepared`.
        """
        return None

    def context(self, form):
        """What the template needs besides the form."""
        return {}

    def based_on(self, form, number):
        """The form as it was sent and refused, to be saved over version `number` when it is sent again."""
        data = form.data.copy()
        data["based_on"] = number
        again = self.make_form(data)
        again.is_valid()
        for error in form.non_field_errors():
            again.add_error(None, error)
        return again

    def show(self, form, status=200, **more):
        """The page with this form."""
        context = {"form": form, "heading": self.heading, "button": self.button, "view": self}
        return render(self.request, self.template, {**context, **self.context(form), **more}, status=status)

    def get(self, request, **kwargs):
        return self.show(self.make_form())

    def post(self, request, **kwargs):
        data = request.POST.copy()
        if data.get("as_new"):
            data["token"] = new_token()
        form = self.make_form(data)
        if not form.is_valid():
            return self.show(form, 422)
        if "look" in data:  # without scripts, what it comes to is asked for by a button
            return self.show(form)
        try:
            self.prepared = self.prepare(form)
            url = once(
                request.user, form.cleaned_data["token"], self.action, self.payload(data), lambda: self.carry_out(form)
            )
        except AlreadyRecorded as repeat:
            return self.show(form, 409, earlier=repeat.submission)
        except Refused as refusal:
            form.add_error(refusal.field if refusal.field in form.fields else None, str(refusal))
            return self.show(form, 422)
        messages.success(request, self.done, extra_tags=f"accepted:{form.cleaned_data['token']}")
        return HttpResponseRedirect(url)

    def payload(self, data):
        """What makes two sendings the same: everything typed, the files by their digests, and where."""
        files = {f"file:{name}": _digest(file) for name, file in self.request.FILES.items()}
        return {"path": self.request.path, **{key: data.getlist(key) for key in data}, **files}


def one_tap(request, action, told, carry_out, subject, words, scope="", undo=False):
    """Carry out the act of one button once and say what came of it; where it leads, None if it was not done.

    told: what makes two taps the same; subject: who is named where it is refused; scope: sets this
    button of a page apart from its others; undo: offer to undo the entry it leads to.
    """
    try:
        url = once_from_page(request, action, scope, told, carry_out)
    except AlreadyRecorded:
        messages.error(request, f"{subject}: something else was written down from here already; look at it again.")
        return None
    except Refused as refusal:
        messages.error(request, f"{subject}: {refusal}.")
        return None
    messages.success(request, words, extra_tags=f"undo:{url.rstrip('/').split('/')[-2]}" if undo else "")
    return url


def once_from_page(request, action, scope, told, carry_out):
    """Carry out the act of one of a page's buttons once, by its token and the button's scope. Raises as `once`."""
    token = f"{request.POST.get('token', '') or new_token()}-{action}-{scope}"
    return once(request.user, hashlib.sha256(token.encode()).hexdigest(), action, told, carry_out)


def _digest(file):
    """SHA-256 of an uploaded file, left at its start."""
    file.seek(0)
    digest = hashlib.sha256(file.read()).hexdigest()
    file.seek(0)
    return digest


def not_found(request, exception):
    """The page of an address that is none. Not Django's own, which reads the body once more and may fail on it."""
    return render(request, "404.html", status=404)


def not_read(request, exception):
    """The page of a body, header or host that cannot be read."""
    return stopped("What was sent cannot be read: it is cut, far too long, or no form of this program.", 400)


def went_wrong(request):
    """The page of an error that nobody expected; a database that is busy, gone or unprotected, or a disk that is full,
    is named.
    """
    sentence = standing.why(sys.exc_info()[1])
    return stopped(sentence, 503) if sentence else HttpResponse(render_to_string("500.html"), status=500)
