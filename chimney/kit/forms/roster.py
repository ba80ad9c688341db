"""A list of names as it is pasted: one a line, parted by commas, or last name first."""

import re

from django import forms

# A class is not larger.
MOST_PEOPLE = 200


class RosterForm(forms.Form):
    """Form of a class: its names and what all of them belong to."""

    names = forms.CharField(
        label="Names, one a line or from a list",
        max_length=4000,
        widget=forms.Textarea(attrs={"rows": 6}),
    )
    period = forms.CharField(label="All of one period or group", max_length=30, required=False)

    def clean_names(self):
        """The names, each once, first name first."""
        names = names_in(self.cleaned_data["names"])
        if not names:
            raise forms.ValidationError("There is no name in it: one a line.")
        if len(names) > MOST_PEOPLE:
            raise forms.ValidationError(
                f"Those are {len(names)} names; the limit is {MOST_PEOPLE} at a time."
            )
        return names

    def clean_period(self):
        return " ".join(self.cleaned_data["period"].split())


def names_in(text):
    """The names in a text, each once whatever its capitals. Lines that mostly have one comma each
    are last names first: a comma in them parts no people.
    """
    lines = [" ".join(line.split()) for line in re.split(r"[\n;\t]+", text)]
    lines = [line.strip(" ,") for line in lines if line.strip(" ,")]
    with_one = sum(line.count(",") == 1 for line in lines)
    last_first = 2 * with_one > len(lines) > 1 and all(line.count(",") < 2 for line in lines)
    if last_first:
        pairs = (line.partition(",") for line in lines)
        names = [f"{first.strip()} {last.strip()}".strip() for last, _, first in pairs]
    else:
        names = [name.strip() for line in lines for name in line.split(",")]
    once = {}
    for name in filter(None, names):
        once.setdefault(name.lower(), name)
    return list(once.values())
