from django import forms

from chimney.parts.fields import StopsField
from chimney.results.models import Verdict
from pinhole import faults as faults_known
from pinhole import verdicts

# Two amounts nearer than this are one.
SAME_STOPS = 0.01


class VerdictForm(forms.Form):
    """One look out of seven, or the stops typed; faults ticked."""

    look = forms.ChoiceField(label="The sheet is", widget=forms.RadioSelect, required=False)
    stops_more = StopsField(
        label="or typed: stops more light it needed",
        most=6,
        required=False,
        help_text="Negative when it needed less.",
    )
    faults = forms.MultipleChoiceField(
        label="Faults",
        widget=forms.CheckboxSelectMultiple,
        required=False,
        choices=faults_known.choices,
    )
    remarks = forms.CharField(label="Remarks", max_length=300, required=False)
    left_out = forms.BooleanField(label="Do not learn from this sheet", required=False)
    # What proposed the stops, and which: whoever types others judges by hand.
    source = forms.ChoiceField(
        choices=Verdict.Source, widget=forms.HiddenInput, required=False, initial="hand"
    )
    proposed = StopsField(most=6, widget=forms.HiddenInput, required=False)

    def __init__(self, medium, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.looks = {look.code: look for look in verdicts.looks(medium)}
        self.fields["look"].choices = [(look.code, look.words) for look in self.looks.values()]

    def clean(self):
        cleaned = super().clean()
        typed, look = cleaned.get("stops_more"), cleaned.pop("look", "")
        proposed = cleaned.pop("proposed", None)
        if typed is None or proposed is None or abs(typed - proposed) > SAME_STOPS:
            cleaned["source"] = Verdict.Source.HAND
        if typed is None and look in self.looks:
            cleaned["stops_more"] = self.looks[look].stops_more
        elif typed is None and not self.errors:
            self.add_error("look", "Choose how the sheet looks, or type the stops.")
        return cleaned

    @classmethod
    def proposed_by(cls, params):
        """Initial values from an address that proposes an amount, and says whose it is."""
        if "stops_more" not in params:
            return {}
        stops, source = params["stops_more"], params.get("source", Verdict.Source.HAND)
        return {"stops_more": stops, "proposed": stops, "source": source, "look": ""}

    @classmethod
    def start(cls, verdict):
        """Initial values from a verdict given before."""
        looks = verdicts.looks(verdict.sheet.paper.kind)
        look = next(
            (look.code for look in looks if abs(look.stops_more - verdict.stops_more) < 1e-9), ""
        )
        shared = {
            "faults": verdict.faults,
            "remarks": verdict.remarks,
            "left_out": verdict.left_out,
        }
        if verdict.source != Verdict.Source.HAND:
            shared |= {"source": verdict.source, "proposed": verdict.stops_more}
            return shared | {"stops_more": verdict.stops_more}
        return shared | ({"look": look} if look else {"stops_more": verdict.stops_more})
