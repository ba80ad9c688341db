"""A log of thousands of sheets: those of the demo's year over and over.

many.py SHEETS LOG.zip     writes such a log whole, for another Chimney to bring in
"""

import os
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))


def form(token, log):
    """(body, kind) of the form that hands a log over. token: of the page; log: its bytes."""
    part = '--edge\r\nContent-Disposition: form-data; name="{}"{}\r\n\r\n'
    body = part.format("csrfmiddlewaretoken", "") + token + "\r\n"
    body += part.format("log", '; filename="log.zip"')
    return body.encode() + log + b"\r\n--edge--\r\n", "multipart/form-data; boundary=edge"


def write(count, path):
    """A log of so many sheets as a ZIP."""
    from django.core.management import call_command

    from chimney.exchange.whole import files

    call_command("migrate", verbosity=0)
    call_command("demo", verbosity=0)
    fill(count)
    with open(path, "wb") as out:
        files.write(out)


def main():
    with tempfile.TemporaryDirectory() as data:
        os.environ |= {"CHIMNEY_DATA": data, "CHIMNEY_ZONE": "Europe/Stockholm"}
        os.environ["DJANGO_SETTINGS_MODULE"] = "chimney.settings"
        import django

        django.setup()
        write(int(sys.argv[1]), sys.argv[2])


def fill(count):
    """Copies of the read sheets with all that hangs on them, until there are so many sheets."""
    from chimney.darkroom.models import Development
    from chimney.lessons.models import Evidence
    from chimney.logbook.models import Exposure, Opening, Sheet
    from chimney.results.models import Verdict

    sheets_read = list(
        Sheet.objects.filter(stage="read").prefetch_related("exposures__opening_row")
    )
    parts = {Development: "development", Verdict: "verdict", Evidence: "evidence"}
    rows_by_sheet = {
        sheet.pk: {model: getattr(sheet, name, None) for model, name in parts.items()}
        for sheet in sheets_read
    }
    copies = [
        (sheets_read[n % len(sheets_read)], _sheet_like(sheets_read[n % len(sheets_read)], n))
        for n in range(count - Sheet.objects.count())
    ]
    Sheet.objects.bulk_create([sheet for _, sheet in copies], batch_size=2000)
    exposures, openings, hung = [], [], {model: [] for model in parts}
    for like, sheet in copies:
        was = like.exposures.all()[0]
        exposures.append(_copy(was, sheet=sheet, loading=None))
        openings.append(_copy(was.opening, exposure=exposures[-1]))
        for model, row in rows_by_sheet[like.pk].items():
            if row:
                hung[model].append(_copy(row, sheet=sheet))
    Exposure.objects.bulk_create(exposures, batch_size=2000)
    Opening.objects.bulk_create(openings, batch_size=2000)
    for model, rows in hung.items():
        model.objects.bulk_create(rows, batch_size=2000)


def _sheet_like(like, number):
    from django.utils import timezone

    paper, now = {"paper": like.paper, "size": like.size}, timezone.now()
    return type(like)(code=f"B-{number}", stage="read", cut_at=now, **paper)


def _copy(row, **changed):
    fields = {
        field.attname: getattr(row, field.attname)
        for field in row._meta.concrete_fields
        if not field.primary_key
    }
    for name in changed:
        fields.pop(f"{name}_id", None)
    return type(row)(**fields, **changed)


if __name__ == "__main__":
    main()
