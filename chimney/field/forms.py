from django import forms

from chimney.field.models import Outing, ScenePhoto, Shot
from chimney.kit.catalogue.papers import FILTERS
from chimney.kit.models import Camera, Developer, Paper
from chimney.logbook import queries
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.parts.adding import AddableField
from chimney.parts.fields import DurationField, NumberField, StopsField, WholeField
from chimney.parts.readings import FIELDS_OF, ReadingForm
from chimney.places.forms import BearingField
from chimney.places.models import Place, View
from pinhole import exposure, light, reciprocity

HOLDS = [("middle", "the middle"), ("highlights", "the highlights"), ("shadows", "the shadows")]
HANDS = [("0", "no hand"), ("3", "3 s"), ("5", "5 s"), ("10", "10 s")]


class PhotoKeyField(forms.CharField):
    """The number of a ScenePhoto; cleaned as that, or None for one that is gone."""

    def clean(self, value):
        """The ScenePhoto without its picture."""
        text = super().clean(value)
        rows = ScenePhoto.objects.defer("jpeg")
        return rows.filter(pk=int(text)).first() if text.isascii() and text.isdigit() else None


class PlanForm(ReadingForm):
    """Form of a plan: the scene, the reading of the meter, and what is in the holder."""

    subject = forms.CharField(label="Subject", max_length=120, required=False)
    camera = AddableField(
        Camera.objects.in_use(), empty_label=None, label="Camera", add=("kit:add", "camera")
    )
    paper = AddableField(
        Paper.objects.timed(), empty_label=None, label="Paper", add=("kit:add", "paper")
    )
    developer = AddableField(
        Developer.objects.in_use(),
        add=("kit:add", "developer"),
        required=False,
        empty_label="not decided",
        label="Developer in mind",
    )
    seen = forms.ChoiceField(
        label="To the eye the sky is",
        choices=[("", "not said"), *((sky.name, sky.words) for sky in light.SKIES)],
        required=False,
    )
    seen_height = forms.ChoiceField(
        label="and the sun",
        choices=[("", "not said"), *((height.name, height.words) for height in light.HEIGHTS)],
        required=False,
    )
    darkest = forms.CharField(label="Darkest part", max_length=20, required=False)
    brightest = forms.CharField(label="Brightest part", max_length=20, required=False)
    hold = forms.ChoiceField(label="Where it does not all fit, hold", choices=HOLDS, required=False)
    felt_s = DurationField(label="By feeling instead", least_s=0.5, required=False)
    azimuth_deg = BearingField(label="Camera looks", required=False)
    aperture = forms.TypedChoiceField(
        label="The lens is set to", coerce=float, empty_value=None, required=False
    )
    ei_from = forms.ChoiceField(label="Rated by", choices=Exposure.EiFrom, widget=forms.RadioSelect)
    ei = NumberField(
        label="EI", least=0.05, most=3200, noun="The EI", prefixes=("ei",), required=False
    )
    filter_name = forms.ChoiceField(
        label="Filter",
        choices=[("", "none or typed"), *((name, name) for name in FILTERS)],
        required=False,
    )
    filter_stops = StopsField(label="takes", most=10, signed=False, required=False)
    plain_light = forms.BooleanField(label="Leave the colour of the light out", required=False)
    compensation_stops = StopsField(label="Give more or less", most=5, required=False)
    preflash_stops = forms.TypedChoiceField(
        label="Pre-flash, for a contrasty paper",
        choices=[("", "none"), *((n, f"{n} stops under the middle") for n in exposure.STRENGTHS)],
        coerce=float,
        empty_value=0.0,  # type: ignore[arg-type]
        required=False,
    )
    school = forms.ChoiceField(label="Reciprocity", required=False)
    sheets = forms.ChoiceField(label="Sheets", choices=Shot.Sheets, required=False)
    bracket_stops = StopsField(label="apart", most=4, signed=False, required=False)
    bracket_by = forms.ChoiceField(label="counted in", choices=Shot.By, required=False)
    bands = WholeField(label="bands", least=2, most=12, noun="The number of bands", required=False)
    hand_s = forms.ChoiceField(
        label="Hand before the hole at opening", choices=HANDS, required=False
    )
    reckon = forms.BooleanField(label="Allow for the light changing meanwhile", required=False)
    side = forms.ChoiceField(label="Sheet", required=False)
    again = forms.BooleanField(label="Expose it a second time on purpose", required=False)
    note = forms.CharField(label="Weather and notes", max_length=300, required=False)
    by_photo = PhotoKeyField(max_length=18, required=False, widget=forms.HiddenInput)
    made = WholeField(least=0, most=99, noun="The count", required=False, widget=forms.HiddenInput)

    def __init__(self, data, *, sides=None, rows=None):
        """sides: of the bag; rows: {field: [row]} of what was read for it."""
        super().__init__(data)
        for name, usable in (rows or {}).items():
            self.fields[name].rows = usable
        self.sides = {side.key: side for side in (queries.sides() if sides is None else sides)}
        self.fields["school"].choices = reciprocity.choices()
        self.fields["side"].choices = [(key, key) for key in self.sides]
        self.fields["side"].error_messages["invalid_choice"] = "That side is not in the bag."
        self.fields["ei_from"].widget.attrs["class"] = "choice"

    def takes(self, camera):
        """Ask for an aperture of that camera; what another one was set to is forgotten."""
        stops = [f"{stop:g}" for stop in camera.stops] if camera else []
        self.fields["aperture"].choices = [(stop, f"f/{stop}") for stop in stops]
        if self.data.get("aperture") not in stops:
            self.data = {**self.data, "aperture": stops[0] if stops else ""}

    def clean(self):
        cleaned = super().clean()
        if (
            cleaned.get("ei_from") == Exposure.EiFrom.TYPED
            and cleaned.get("ei") is None
            and "ei" not in self.errors
        ):
            self.add_error("ei", forms.ValidationError("Type the EI.", code="required"))
        paper = cleaned.get("paper")
        if paper and cleaned.get("school") not in paper.schools:
            cleaned["school"] = paper.school
        cleaned["bracket_stops"] = cleaned.get("bracket_stops") or 1.0
        cleaned["bands"] = cleaned.get("bands") or 5
        cleaned["sheets"] = cleaned.get("sheets") or Shot.Sheets.SINGLE
        cleaned["hand_s"] = int(cleaned.get("hand_s") or 0)
        self._clean_filter(cleaned, paper)
        self._clean_ends(cleaned)
        return cleaned

    def _clean_filter(self, cleaned, paper):
        """A filter with a name takes what it takes of this paper's light."""
        name = cleaned.get("filter_name")
        if not name or paper is None:
            return
        takes = FILTERS[name][paper.sees]
        if takes is None:
            self.add_error("filter_name", f"{paper} sees hardly anything through it.")
        cleaned["filter_stops"] = takes

    def _clean_ends(self, cleaned):
        """Darkest and brightest are read as the chosen form is; both together stand for the
        middle.
        """
        kind = cleaned.get("kind")
        first = FIELDS_OF.get(kind, ("",))[0]
        for end in ("darkest", "brightest"):
            text = cleaned.get(end)
            cleaned[end] = None
            if not text or kind == "sky":
                continue
            try:
                cleaned[end] = self.fields[first].clean(text) if kind else None
            except forms.ValidationError as error:
                self.add_error(end, error)
        if cleaned.get("darkest") and cleaned.get("brightest") and not self[first].value():
            self._errors.pop(first, None)

    def forgive_empty(self):
        """While somebody is still typing, an empty field is not wrong yet."""
        for name in list(self.errors):
            if all(error.code == "required" for error in self.errors.as_data()[name]):
                del self.errors[name]


class OutingForm(forms.ModelForm):
    day = forms.DateField(
        label="Day", widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d")
    )
    place = AddableField(Place.objects.all(), empty_label=None, label="Place", add=("places:add",))

    class Meta:
        model = Outing
        fields = ["name", "place", "day", "sky", "wind", "note"]
        labels = {"sky": "Sky expected", "wind": "Wind expected"}

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        if self.instance.pk:
            # The sky of now, which may have changed since the morning.
            self.initial["sky"] = self.instance.sky_at(clock.now()).name

    def clean_day(self):
        day = self.cleaned_data["day"]
        if not 1900 < day.year < 2100:
            raise forms.ValidationError("The sun is reckoned for the years 1901 to 2099.")
        return day


class SkyForm(forms.Form):
    sky = forms.ChoiceField(choices=[(sky.name, sky.words) for sky in light.SKIES])


class ShotForm(forms.ModelForm):
    """A shot wanted on an outing: where the camera looks, when, and on how many sheets."""

    time = forms.TimeField(
        label="From", widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M")
    )
    set_up_s = DurationField(
        label="Setting up", least_s=0, most_s=6 * 3600, bare_unit="min", required=False
    )
    azimuth_deg = BearingField(
        label="Camera looks", required=False, help_text="Degrees from true north, or NW."
    )
    camera = AddableField(
        Camera.objects.in_use(),
        empty_label=None,
        label="Camera and setting",
        add=("kit:add", "camera"),
    )
    paper = AddableField(
        Paper.objects.developed(), empty_label=None, label="Paper", add=("kit:add", "paper")
    )
    bracket_stops = StopsField(label="Bracket: stops apart", most=4, signed=False, required=False)
    view = forms.ModelChoiceField(
        View.objects.none(), required=False, empty_label="a new one", label="A view to repeat"
    )
    pair_camera = forms.ModelChoiceField(
        Camera.objects.in_use(), required=False, empty_label="no pair", label="Beside it, camera"
    )
    pair_paper = forms.ModelChoiceField(
        Paper.objects.developed(),
        required=False,
        empty_label="no pair",
        label="Beside it, paper or film",
    )

    class Meta:
        model = Shot
        fields = [
            "subject",
            "view",
            "time",
            "set_up_s",
            "camera",
            "paper",
            "azimuth_deg",
            "shade",
            "sheets",
        ]
        fields += ["bracket_stops", "bracket_by"]
        labels = {
            "shade": "The subject lies in open shade",
            "sheets": "Sheets",
            "bracket_by": "counted in",
        }

    def __init__(self, *args, outing, **kwargs):
        super().__init__(*args, **kwargs)
        self.outing = outing
        self.fields["view"].queryset = View.objects.filter(place=outing.place)
        self.fields["subject"].required = False

    def clean(self):
        cleaned = super().clean()
        view = cleaned.get("view")
        if view:
            cleaned["subject"] = cleaned.get("subject") or view.subject
            cleaned["azimuth_deg"] = (
                view.azimuth_deg if cleaned.get("azimuth_deg") is None else cleaned["azimuth_deg"]
            )
        if not cleaned.get("subject"):
            self.add_error("subject", forms.ValidationError("Name the subject.", code="required"))
        cleaned["set_up_s"] = 300.0 if cleaned.get("set_up_s") is None else cleaned["set_up_s"]
        cleaned["bracket_stops"] = cleaned.get("bracket_stops") or 1.0
        if bool(cleaned.get("pair_camera")) != bool(cleaned.get("pair_paper")):
            self.add_error("pair_paper", "A pair needs both its camera and its paper.")
        return cleaned


class PocketForm(forms.Form):
    """Form for what a pocket sheet gave back: the file, or its text."""

    file = forms.FileField(label="The file it gave back", required=False)
    text = forms.CharField(
        label="or its text",
        widget=forms.Textarea(attrs={"rows": 4}),
        required=False,
        max_length=500_000,
    )

    def clean(self):
        cleaned = super().clean()
        upload = cleaned.get("file")
        if upload and upload.size > 500_000:
            self.add_error("file", "That file is larger than any pocket sheet gives back (500 kB).")
        elif upload:
            cleaned["text"] = upload.read().decode("utf-8", "replace")
        if not cleaned.get("text") and not self.errors:
            self.add_error("file", "Choose the file, or paste its text.")
        return cleaned
