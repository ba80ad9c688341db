"""The whole log as a ZIP, or as JSON, a row a line."""

import json
import zipfile
from itertools import islice

from chimney.exchange.whole import queries
from chimney.exchange.whole.catalogue import ROW_KINDS, data_of, model_of
from chimney.results.models import Scan
from chimney.results.scans import files as scans

# The member of the ZIP that is the log.
LOG = "log.json"
LINES_AT_ONCE = 500
ROW_ENCODER = json.JSONEncoder(ensure_ascii=False, allow_nan=False)


def write(out):
    """The ZIP of the whole log into an open file: its JSON, its pictures and the originals of
    scans.
    """
    pictures = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as package:
        with package.open(LOG, "w", force_zip64=True) as log:
            for pieces in _by_many(_pieces_of(*queries.told(pictures))):
                log.write("".join(pieces).encode())
        for path, (kind, pk, field) in pictures.items():
            content = model_of(kind)._base_manager.values_list(field, flat=True).get(pk=pk)
            package.writestr(zipfile.ZipInfo(path), bytes(content))
        for scan in Scan.objects.order_by("pk"):
            original = scans.path_of(scan)
            if original.exists():
                package.write(original, f"scans/{original.name}", zipfile.ZIP_STORED)


def _by_many(pieces):
    """Lists of so many of them as are worth packing at once."""
    while some := list(islice(pieces, LINES_AT_ONCE)):
        yield some


def text_of(log):
    """A log as JSON, a row a line."""
    head = {name: value for name, value in log.items() if name not in ("rows", "answers")}
    rows = ((kind, log["rows"][kind]) for kind in ROW_KINDS if kind in log["rows"])
    return "".join(_pieces_of(head, rows, lambda: log["answers"]))


def _pieces_of(head, rows, answers):
    """The text of a log, piece by piece. rows: (kind, its rows) one after the other; answers: gives
    them when the rows are through.
    """
    opened = json.dumps(head, ensure_ascii=False)[:-1]
    yield f'{opened},\n"rows": {{'
    for number, (kind, of_kind) in enumerate(rows):
        between = ",\n" if number else ""
        yield f"{between}{json.dumps(kind)}: ["
        yield from _lines(of_kind, data_of(kind))
        yield "]"
    yield '},\n"answers": ['
    yield from _lines(answers())
    yield "]}\n"


def _lines(rows, data=()):
    """Each row on a line of its own. data: its fields that may be text in JSON already."""
    between = "\n"
    for row in rows:
        json_fields = [name for name in data if type(row[name]) is queries.JsonText]
        line = ROW_ENCODER.encode(
            row | {name: f"\0{name}" for name in json_fields} if json_fields else row
        )
        for name in json_fields:
            # No word in a log holds what stands for it meanwhile.
            line = line.replace(f'"\\u0000{name}"', row[name], 1)
        yield f"{between}{line}"
        between = ",\n"
    if between == ",\n":
        yield "\n"
