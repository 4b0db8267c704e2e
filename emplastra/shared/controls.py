"""Controls of forms drawn in code: a sheet has hundreds, and each template takes a part of a millisecond."""

from django.forms.renderers import DjangoTemplates
from django.utils.html import conditional_escape
from django.utils.safestring import mark_safe

_AT = "django/forms/widgets/"


class InCode(DjangoTemplates):
    """Draws plain inputs and lists as their templates would; all else, and labels round options, by the templates."""

    def render(self, template_name, context, request=None):
        draw = _DRAWN.get(template_name)
        if draw is None or context["widget"].get("wrap_label"):
            return super().render(template_name, context, request)
        return mark_safe(draw(context["widget"]))  # names, values, labels and attributes are escaped one by one


def _attrs(attrs):
    found = ((name, value) for name, value in attrs.items() if value is not False)
    return "".join(f" {name}" if value is True else f' {name}="{conditional_escape(value)}"' for name, value in found)


def _input(w):
    value = "" if w["value"] is None else f' value="{conditional_escape(str(w["value"]))}"'
    return f'<input type="{w["type"]}" name="{conditional_escape(w["name"])}"{value}{_attrs(w["attrs"])}>'


def _option(w):
    value = conditional_escape(str(w["value"]))
    return f'<option value="{value}"{_attrs(w["attrs"])}>{conditional_escape(w["label"])}</option>'


def _select(w):
    groups = []
    for name, options, _ in w["optgroups"]:
        inside = "".join(map(_option, options))
        groups.append(f'<optgroup label="{conditional_escape(name)}">{inside}</optgroup>' if name else inside)
    return f'<select name="{conditional_escape(w["name"])}"{_attrs(w["attrs"])}>{"".join(groups)}</select>'


_DRAWN = {f"{_AT}{name}.html": _input for name in ("text", "number", "hidden", "radio_option", "checkbox_option")}
_DRAWN[f"{_AT}select.html"] = _select
