"""A form for a table that comes in as a CSV file."""

import csv
import io

from django import forms

MOST_CSV = 400_000
MOST_LINE = 1000


class CsvForm(forms.Form):
    """A table that comes in as a file: a skyline, days of sunshine, hours of cloud."""

    file = forms.FileField(label="CSV file")

    def clean_file(self):
        upload = self.cleaned_data["file"]
        if upload.size > MOST_CSV:
            raise forms.ValidationError(
                "That file is larger than 400 kB: a row a day, or a row a degree, is enough."
            )
        text = upload.read().decode("utf-8-sig", "replace")
        if "\0" in text:
            raise forms.ValidationError("That is no CSV file.")
        # Whatever ends a line, and no cell longer than any number.
        text = "\n".join(line[:MOST_LINE] for line in text.splitlines())
        try:
            dialect = csv.Sniffer().sniff(text[:2000], ",;\t ")
        except csv.Error:
            dialect = csv.excel
        try:
            return list(csv.reader(io.StringIO(text), dialect))
        except csv.Error as error:
            raise forms.ValidationError(
                "That is no CSV file: a quotation mark is never closed."
            ) from error
