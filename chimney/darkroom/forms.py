from django import forms

from chimney.darkroom import craft, queries
from chimney.darkroom.models import Bath, SafeLight, Vessel
from chimney.kit.models import Developer
from chimney.logbook import queries as logbook
from chimney.logbook.models import Sheet
from chimney.parts.adding import AddableField
from chimney.parts.fields import DilutionField, DurationField, NumberField, RowsField
from chimney.parts.scales import number
from pinhole import developing

ONE, TOGETHER = "one", "together"
MOVED = (
    "Another process or other sheets bring their own developer, baths and order: they stand below "
    "now. Look, and send it again."
)


class RunForm(forms.Form):
    """A run: the sheets that go in, through which process, and what they go into."""

    sheets = RowsField(
        Sheet.objects.none(),
        widget=forms.CheckboxSelectMultiple,
        label="Sheets",
        error_messages={
            "required": "Tick at least one sheet.",
            "invalid_choice": "One of these sheets does not wait for the developer any more.",
        },
    )
    process = forms.ChoiceField(
        label="Process",
        error_messages={"invalid_choice": "That process was dropped or retired meanwhile."},
        required=False,
    )
    order = forms.ChoiceField(
        label="Sheets go in",
        choices=((ONE, "one after the other, a clock each"), (TOGETHER, "all at once")),
        required=False,
    )
    baths = RowsField(
        Bath.objects.none(),
        widget=forms.CheckboxSelectMultiple,
        label="Baths",
        required=False,
        error_messages={"invalid_choice": "One of these baths was thrown away."},
    )
    developer = AddableField(
        Developer.objects.none(),
        empty_label="which one?",
        error_messages={"required": "Which developer? It is remembered for this process."},
        label="Developer",
        add=("kit:add", "developer"),
    )
    parts = DilutionField(
        required=False, help_text="One part and so many of water. Empty: used as mixed."
    )
    vessel = AddableField(
        Vessel.objects.none(),
        label="In",
        required=False,
        empty_label="not said",
        add=("darkroom:add", "vessel"),
    )
    light = AddableField(
        SafeLight.objects.none(),
        label="Under",
        required=False,
        empty_label="no lamp, or not said",
        add=("darkroom:add", "light"),
    )
    by_eye = forms.BooleanField(label="The developer ends by eye, not by the clock", required=False)
    longer = forms.BooleanField(
        label="Longer in a developer that is half used up", required=False, initial=True
    )
    temperature_c = NumberField(
        label="Temperature", unit="°C", least=2, most=60, noun="The temperature", required=False
    )
    remarks = forms.CharField(label="Remarks", max_length=300, required=False)
    seconds = DurationField(label="Time in it", most_s=7200, bare_unit="min", required=False)

    # What its proposals were made for.
    made_for = forms.CharField(max_length=200, required=False, widget=forms.HiddenInput)

    def __init__(self, *args, room, moved=False, **kwargs):
        """room: the DarkRoom; moved: whether its proposals are of another process than before."""
        super().__init__(*args, **kwargs)
        self.moved = moved
        self.known = room.processes
        self.states = {state.bath.pk: state for state in room.baths}
        self.fields["sheets"].queryset = logbook.waiting(Sheet.Stage.EXPOSED)
        self.fields["process"].choices = [
            (key, process.name) for key, process in self.known.items()
        ]
        self.fields["baths"].queryset = Bath.objects.filter(thrown_at=None)
        for name, rows in room.rows.items():
            self.fields[name].rows = rows

    @property
    def is_timed(self):
        """True if a run begins, and nothing that is over is logged."""
        return "begin" in self.data

    def clean(self):
        cleaned = super().clean()
        cleaned["process"] = self.known.get(cleaned.get("process"))
        sheets = list(cleaned.get("sheets") or ())
        if self.is_timed or cleaned["process"]:
            self._check_process(cleaned["process"], sheets)
        self._check_vessel(cleaned.get("vessel"), sheets, cleaned.get("baths") or ())
        if not self.is_timed and not cleaned.get("seconds") and "seconds" not in self.errors:
            self.add_error("seconds", "How long was it in the developer?")
        self._check_developer(cleaned)
        if self.moved:
            self.add_error("process", MOVED)
        return cleaned

    @classmethod
    def as_typed(cls, name, value):
        """A value of a field as a browser would send it."""
        return str(cls.base_fields[name].prepare_value(value))

    def _check_process(self, process, sheets):
        if process is None:
            if "process" not in self.errors:
                self.add_error("process", "Choose a process.")
            return
        steps = craft.in_vessel(process.steps, self.cleaned_data.get("vessel"))
        red = developing.open_in_red(steps)
        blind = next((sheet.paper for sheet in sheets if sheet.paper.sees == "pan"), None)
        if blind and red:
            self.add_error(
                "process",
                f"{blind} sees red: in the step “{red.name}” it lies open under a red lamp. Choose "
                "a process in a tank.",
            )
        odd = next((sheet for sheet in sheets if sheet.paper.kind not in process.kinds), None)
        if odd:
            kind = odd.paper.get_kind_display()
            self.add_error(
                "process",
                f"{odd} is {kind}; {process.name} is for other papers. Change the "
                "process, or untick it.",
            )

    def _check_vessel(self, vessel, sheets, baths):
        if vessel is None:
            return
        if len(sheets) > vessel.holds and self.cleaned_data.get("order") == TOGETHER:
            self.add_error(
                "vessel",
                f"{vessel} holds {vessel.holds} at once, and {len(sheets)} sheets are ticked.",
            )
        least_volume_ml = craft.least_ml(vessel, sheets)
        low = next(
            (
                bath
                for bath in baths
                if least_volume_ml and bath.volume_ml < 0.995 * least_volume_ml
            ),
            None,
        )
        if low:
            self.add_error(
                "baths",
                f"{number(least_volume_ml)} ml cover the sheet in {vessel}; {low} has only "
                f"{number(low.volume_ml)} ml.",
            )
        high = next((b for b in baths if vessel.most_ml and b.volume_ml > vessel.most_ml), None)
        if high:
            self.add_error("vessel", f"{vessel} takes {number(vessel.most_ml)} ml; {high} is more.")

    def _check_developer(self, cleaned):
        """A developer bath that is ticked says what is developed in."""
        bath = next(
            (bath_of_it for bath_of_it in cleaned.get("baths") or () if bath_of_it.developer_id),
            None,
        )
        if bath is None:
            return
        if cleaned.get("developer") and cleaned["developer"].pk != bath.developer_id:
            self.add_error(
                "developer",
                f"{bath} is {bath.developer}: untick that bath, or choose its developer.",
            )
        cleaned["parts"] = bath.parts

    @property
    def unfold(self):
        """True if something is wrong in what is folded away."""
        folded = ("developer", "parts", "temperature_c", "vessel", "light")
        return any(name in self.errors for name in folded)

    @property
    def steps(self):
        """The steps of a run: as they are done in its vessel, longer where its bath is tired."""
        cleaned = self.cleaned_data
        steps = craft.in_vessel(cleaned["process"].steps, cleaned["vessel"])
        return craft.with_longer(steps, self.longest)

    @property
    def longest(self):
        """By what the developer's time grows for the baths that are ticked."""
        ticked = self.cleaned_data["baths"] if self.cleaned_data["longer"] else ()
        develop = Bath.Purpose.DEVELOP
        grown = [self.states[bath.pk].longer for bath in ticked if bath.purpose == develop]
        return max(grown, default=1.0)


class CorrectForm(forms.Form):
    """Correction of what was really done with a sheet that is through."""

    process = forms.ChoiceField(label="Process", required=False)
    developer = forms.ModelChoiceField(
        Developer.objects.none(), empty_label=None, label="Developer"
    )
    parts = DilutionField(required=False, help_text="Empty: used as mixed.")
    seconds = DurationField(label="Time in it", most_s=7200, bare_unit="min", required=False)
    by_eye = forms.BooleanField(label="It ended by eye, not by the clock", required=False)
    temperature_c = NumberField(
        label="Temperature", unit="°C", least=2, most=60, noun="The temperature", required=False
    )
    remarks = forms.CharField(label="Remarks", max_length=300, required=False)

    def __init__(self, development, data):
        run = development.run
        names = ("developer", "parts", "by_eye", "temperature_c", "remarks")
        start = {name: getattr(run, name) for name in names}
        super().__init__(data, initial=start | {"seconds": development.seconds})
        usable = Developer.objects.in_use() | Developer.objects.filter(pk=run.developer_id)
        self.fields["developer"].queryset = usable
        self.known = queries.all_processes()
        choices = [
            (key, process.name) for key, process in self.known.items() if key != run.process_key
        ]
        self.fields["process"].choices = [("", run.process_name), *choices]

    def clean_process(self):
        return self.known.get(self.cleaned_data["process"])


class RunNoteForm(forms.Form):
    temperature_c = NumberField(
        label="Temperature", unit="°C", least=2, most=60, noun="The temperature", required=False
    )
    remarks = forms.CharField(label="Remarks", max_length=300, required=False)
