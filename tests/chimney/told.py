"""What pages, fragments and tables tell of the same thing, held against each other."""

import csv
import io
import json
import re
from html import unescape
from zipfile import ZipFile

import icalendar
from pypdf import PdfReader

from chimney.darkroom import queries as darkroom
from chimney.exchange.whole import files
from chimney.parts import clock
from chimney.solar.models import Solargraph
from pinhole import durations


def words_of(answer):
    """A page as it is read: without marks, white space made one."""
    text = re.sub(r"<(script|style).*?</\1>", " ", answer.content.decode(), flags=re.S)
    return re.sub(r"\s+", " ", unescape(re.sub(r"<[^>]+>", " ", text)))


def table(client, name):
    answer = client.get(f"/data/table/{name}.csv")
    return list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))


def printed(client, url):
    """What a printed file says, white space made one."""
    pages = PdfReader(io.BytesIO(client.get(url).content)).pages
    return " ".join(" ".join(page.extract_text() for page in pages).split())


def differences(client, step=1):
    """[sentence] for each thing of which two places tell another thing; of a long log each
    `step`-th row of a table is looked at.
    """
    found = []

    def tells(url, wanted):
        words = printed(client, url) if url.endswith(".pdf") else words_of(client.get(url))
        if wanted not in words:
            found.append(f"{url} does not tell “{wanted}”: {words[-700:]}")

    _exposures(client, tells, step)
    _baths(client, tells, step)
    _cans(client, tells, found)
    return found


def _exposures(client, tells, step):
    files.write(out := io.BytesIO())
    rows = json.loads(ZipFile(out).read("log.json"))["rows"]
    codes = {row["id"]: row["code"] for row in rows.get("logbook.sheet", [])}
    given = {codes[row["sheet"]]: row["given_s"] for row in rows.get("logbook.exposure", [])}
    last = {row["sheet"]: row for row in table(client, "exposures")}
    for row in list(last.values())[::step]:
        if row["given_s"] and row["slip"] != "slide_in":
            said = durations.say(given[row["sheet"]])
            tells(f"/sheets/{row['sheet']}/", f"ree for {said}")


def _baths(client, tells, step):
    for row in table(client, "runs")[::step]:
        if not row["developer_s"]:
            continue
        dilution = f"1+{float(row['parts']):g}" if row["parts"] else "as mixed"
        seconds = durations.say(float(row["developer_s"]))
        tells(f"/develop/of/{row['sheet']}/", f"{row['developer']}, {dilution}, {seconds}")
    for state in darkroom.baths(clock.now()):
        tells("/develop/room/", state.words)
        tells("/develop/", f"{state.bath} {state.words}")
        tells(f"/develop/room/bath/{state.bath.pk}/label.pdf", f"{state.bath}")


def _cans(client, tells, found):
    known = {row["name"]: row for row in table(client, "cans")}
    book = icalendar.Calendar.from_ical(client.get("/expose/cans/cans.ics").content)
    home = {
        str(event["SUMMARY"]): event["DTSTART"].dt
        for event in book.walk("VEVENT")
        if str(event["SUMMARY"]).startswith("Bring")
    }
    for can in Solargraph.objects.filter(sheet__stage="out"):
        due = next(day for words, day in home.items() if can.name in words)
        row = known[can.name]
        if not f"{due}" == row["last_day"] == f"{can.last_day}":
            found.append(f"{can}: due {due} in the calendar, {row['last_day']} in the table")
        stands = f"faces {can.azimuth_deg:.0f}°, leans {can.tilt_deg:g}°"
        for url in (f"/expose/cans/{can.pk}/label.pdf", "/expose/cans/round.pdf"):
            tells(url, stands)
            tells(url, f"{due.day} {due:%B %Y}")
        tells(f"/expose/cans/{can.pk}/", f"Due {due.day} {due:%B %Y}")
