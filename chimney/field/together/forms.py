"""One reading, and the cameras that are opened by it."""

from django import forms

from chimney.field.together import queries
from chimney.parts import clock
from chimney.parts.readings import ReadingForm
from chimney.places import queries as places
from chimney.places import wording


class TogetherForm(ReadingForm):
    sides = forms.MultipleChoiceField(
        label="Open",
        widget=forms.CheckboxSelectMultiple,
        error_messages={
            "required": "Tick at least one camera.",
            "invalid_choice": "One of these cameras is not loaded any more.",
        },
    )
    subject = forms.CharField(label="Subject", max_length=120, required=False)

    START = {"kind": "seconds", "meter_f": "128", "meter_iso": "6", "ev_iso": "100"}
    START |= {"sky": "sun", "height": "high"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.loaded = {side.key: side for side in queries.loaded()}
        self.fields["sides"].choices = [(key, key) for key in self.loaded]
        self.stands(*wording.sun_over(places.home(), clock.now()))

    @property
    def reading(self):
        """The reading alone, as far as it is good."""
        return self.cleaned_data if not set(self.errors) - {"sides", "subject"} else None

    @property
    def ticked(self):
        """The sides that are ticked."""
        return [self.loaded[key] for key in self.cleaned_data["sides"]]
