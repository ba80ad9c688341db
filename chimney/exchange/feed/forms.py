"""Form for the message of a sensor."""

from django import forms

from chimney.exchange.models import FeedToken
from chimney.parts.fields import NumberField
from pinhole import light


class SensorForm(forms.Form):
    """One reading: lux, or an exposure value at an ISO."""

    lux = NumberField(label="lux", least=0.001, most=200_000, noun="The light", required=False)
    ev = NumberField(label="ev", least=-10, most=24, noun="The EV", required=False)
    iso = NumberField(label="iso", least=0.1, most=102400, noun="The ISO", required=False)

    def clean(self):
        cleaned = super().clean()
        if self.errors:
            return cleaned
        lux, ev = cleaned.get("lux"), cleaned.get("ev")
        if (lux is None) == (ev is None):
            raise forms.ValidationError("Send lux or ev, one of them.")
        iso = cleaned.get("iso") or 100
        cleaned["ev100"] = float(
            light.ev100_at_iso(ev, iso) if lux is None else light.ev100_from_lux(lux)
        )
        return cleaned


class TokenForm(forms.Form):
    """to: what is let in by it."""

    LABELS = {
        FeedToken.To.LIGHT: "What sends the light",
        FeedToken.To.CALENDAR: "What reads the calendar",
    }
    name = forms.CharField(max_length=60)

    def __init__(self, to, typed=None):
        super().__init__(typed, auto_id=f"id_{to}_%s")
        self.to = FeedToken.To(to)
        self.fields["name"].label = self.LABELS[self.to]

    def clean_name(self):
        name = " ".join(self.cleaned_data["name"].replace("\0", "").split())
        if not name:
            raise forms.ValidationError("Give it a name.")
        return name
