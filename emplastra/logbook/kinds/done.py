"""A step of the plan that leaves no film is done."""

from emplastra.core.surface import events
from emplastra.core.surface.steps import STEPS

from ..forms import WholeForm
from ..kind import EntryKind


class DoneForm(WholeForm):
    """A step of the plan that leaves no film is done."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["step"].choices = self.fields["step"].choices[1:] or [("", "No such step in the plan")]
        self.fields["step"].required = True
        self.fields["step"].error_messages["required"] = (
            "choose a step of the plan; add it on Build-up if it is not there"
        )


class Kind(EntryKind):
    key, label, group, order, form = "done", "Step done", "look", 170, DoneForm
    at_once = lasts = True

    def event(self, common, told, sheets):
        return events.Done(*common)

    def recorded_by(self, step):
        # An inspection that is not of welds is plainly done; drying and masking may be told so.
        return step.entry in {"done", "inspected", "dried", "masked"}

    def tell(self, entry, context):
        return f"{STEPS[context.step.kind].name}: done" if context.step else self.label, []
