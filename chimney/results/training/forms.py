"""Form for what is said of a sheet in training."""

from django import forms

from chimney.results.training.craft import SHOWN_FAULTS
from pinhole import verdicts
from pinhole.faults import FAULTS


class TrialForm(forms.Form):
    seed = forms.IntegerField(min_value=0, max_value=10**6, widget=forms.HiddenInput)
    look = forms.ChoiceField(label="The sheet is", widget=forms.RadioSelect)
    fault = forms.ChoiceField(label="And on it", required=False)

    def __init__(self, medium, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.looks = {look.code: look for look in verdicts.looks(medium)}
        self.fields["look"].choices = [(look.code, look.words) for look in self.looks.values()]
        named = [(code, FAULTS[code].words) for code in SHOWN_FAULTS]
        self.fields["fault"].choices = [("", "nothing amiss"), *named]

    @property
    def stops(self):
        return self.looks[self.cleaned_data["look"]].stops_more
