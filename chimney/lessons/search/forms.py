"""Form for questions to the whole log."""

from django import forms

from chimney.kit.models import Camera, Developer, Paper
from chimney.lessons.search import craft, queries
from chimney.places.models import Place
from pinhole import faults

ANY = (("", "any"),)


class SearchForm(forms.Form):
    words = forms.CharField(
        label="Ask as you would say it",
        max_length=60,
        required=False,
        help_text="slipway November too dark; coffee fog; half a stop more",
    )
    paper = forms.ModelChoiceField(Paper.objects, required=False, empty_label="any")
    camera = forms.ModelChoiceField(Camera.objects, required=False, empty_label="any")
    developer = forms.ModelChoiceField(Developer.objects, required=False, empty_label="any")
    process = forms.ChoiceField(required=False)
    place = forms.ModelChoiceField(Place.objects, required=False, empty_label="any")
    light = forms.ChoiceField(
        choices=(*ANY, ("eye", "judged by eye"), ("low", "low sun"), ("cloud", "cloud")),
        required=False,
    )
    verdict = forms.ChoiceField(
        choices=(
            *ANY,
            ("more", "wanted more light"),
            ("right", "right"),
            ("less", "wanted less light"),
            ("none", "not read"),
        ),
        required=False,
    )
    fault = forms.ChoiceField(required=False)
    since = forms.DateField(
        label="Exposed since", required=False, widget=forms.DateInput(attrs={"type": "date"})
    )
    until = forms.DateField(
        label="Exposed until", required=False, widget=forms.DateInput(attrs={"type": "date"})
    )

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["fault"].choices = [*ANY, *faults.choices()]
        processes = queries.processes()
        self.fields["process"].choices = [*ANY, *zip(processes, processes, strict=True)]

    def clean_words(self):
        return self.cleaned_data["words"].replace("\0", "").strip()

    @property
    def chips(self):
        """The parts of the question in words, as they were understood."""
        return list(craft.understand(self.asked.get("words") or "").chips)

    @property
    def asked(self):
        """Question in words, as far as it is right."""
        return self.cleaned_data if self.is_bound and self.is_valid() else {}


class KeepForm(forms.Form):
    name = forms.CharField(label="Keep this search as", max_length=60)
    query = forms.CharField(max_length=600, required=False)

    def clean_name(self):
        return " ".join(self.cleaned_data["name"].split())
