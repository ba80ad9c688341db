from django import forms

from chimney.kit.models import Developer
from chimney.logbook import queries
from chimney.logbook.models import Sheet
from chimney.parts.adding import AddableField
from chimney.parts.fields import DurationField, NumberField, RowsField


class RunForm(forms.Form):
    """One run: the sheets that go in, and what they go into."""

    sheets = RowsField(
        Sheet.objects.none(),
        widget=forms.CheckboxSelectMultiple,
        label="Sheets",
        error_messages={
            "required": "Tick at least one sheet.",
            "invalid_choice": "One of these sheets does not wait for the developer any more.",
        },
    )
    developer = AddableField(
        Developer.objects.none(),
        empty_label=None,
        label="Developer",
        add=("kit:add", "developer"),
    )
    parts = NumberField(
        label="Dilution 1 +",
        least=0.1,
        most=1000,
        noun="The dilution",
        required=False,
        prefixes=("1+", "1 +"),
        help_text="One part and so many of water. Empty: used as mixed.",
    )
    seconds = DurationField(label="Time in it", most_s=7200, bare_unit="min")
    temperature_c = NumberField(
        label="Temperature", unit="°C", least=2, most=60, noun="The temperature", required=False
    )
    remarks = forms.CharField(label="Remarks", max_length=300, required=False)

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["sheets"].queryset = queries.waiting(Sheet.Stage.EXPOSED)
        self.fields["developer"].queryset = Developer.objects.in_use()
