"""Marks by which a browser knows a picture of a scan that it has already."""

import hashlib

from chimney.results.models import Scan

# Raised where the same scan comes out otherwise than before.
EDITION = 1


def mark(request, pk, **_):
    """The scan as it is kept, by what it is read, and what is asked of it; None where there is
    none.
    """
    return mark_of(pk, request.get_full_path())


def mark_of_sheet(request, code):
    newest = Scan.objects.filter(sheet__code=code, state="ready").values_list("pk", flat=True)
    return mark(request, newest.first())


def mark_of(pk, asked):
    scan_row = Scan.objects.select_related("sheet__paper", "wedge").filter(pk=pk).first()
    if scan_row is None:
        return None
    rows = [scan_row, scan_row.wedge, scan_row.sheet, scan_row.sheet and scan_row.sheet.paper]
    values = [
        [field.value_from_object(row) for field in row._meta.concrete_fields] for row in rows if row
    ]
    text = f"{EDITION} {asked} {values}"
    return f'"{hashlib.sha256(text.encode()).hexdigest()[:32]}"'
