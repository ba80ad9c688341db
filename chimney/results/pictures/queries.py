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
    kept = Scan.objects.select_related("sheet__paper", "wedge").filter(pk=pk).first()
    if kept is None:
        return None
    rows = [kept, kept.wedge, kept.sheet, kept.sheet and kept.sheet.paper]
    told = [[of.value_from_object(row) for of in row._meta.concrete_fields] for row in rows if row]
    said = f"{EDITION} {asked} {told}"
    return f'"{hashlib.sha256(said.encode()).hexdigest()[:32]}"'
