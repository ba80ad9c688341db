"""Milliseconds and ratios: the sum and the Hearth against an empty Django page, all in this run.

The empty page goes through the same middleware and renders an empty template, so that a ratio says
what Chimney adds.
"""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from scripts.many import fill  # noqa: E402 - found only now

ROUNDS = 60
MANY = 10_000
# Pages that show or count all sheets.
VIEWS = {
    "the Hearth": "/",
    "the sheets list": "/sheets/",
    "the contact sheet": "/sheets/?view=pictures",
    "what waits to be read": "/read/",
    "scans": "/read/scans/",
    "Learn": "/learn/",
    "one lesson": "/learn/1/",
    "a search": "/learn/search/?paper=1",
    "a year": "/learn/year/2026/",
    "the notebook": "/learn/notebook/",
    "the bag": "/expose/",
    "the dark room": "/develop/",
}


def main():
    with tempfile.TemporaryDirectory() as data:
        os.environ |= {
            "CHIMNEY_DATA": data,
            "CHIMNEY_ZONE": "Europe/Stockholm",
            "DJANGO_SETTINGS_MODULE": "chimney.settings",
        }
        import django
        from django.conf import settings

        settings.STORAGES["staticfiles"]["BACKEND"] = (
            "django.contrib.staticfiles.storage.StaticFilesStorage"
        )
        django.setup()
        _measure()


def _measure():
    from django.core.management import call_command
    from django.http import HttpResponse
    from django.template import engines
    from django.test import Client
    from django.urls import path

    from chimney import urls
    from chimney.logbook.models import Sheet
    from demo import year as demo

    empty = engines["django"].from_string("")
    urls.urlpatterns.append(path("empty/", lambda request: HttpResponse(empty.render({}, request))))
    call_command("migrate", verbosity=0)
    demo.a_year()
    client, sheets = Client(headers={"host": "localhost"}), Sheet.objects.count()
    pages = _pages(client, sheets)
    base = pages["empty Django page"]
    for name, ms in pages.items():
        print(f"{name:<36} {ms:8.2f} ms   {ms / base:7.1f} x the empty page")
    hearth = [ms for name, ms in pages.items() if name.startswith("the Hearth")]
    _round_trip()
    _day(client, base)
    _sun(client)
    _hole()
    _lessons()
    _read(client, base)
    _scan(client)
    print(f"the Hearth, {MANY} sheets against {sheets}: {hearth[1] / hearth[0]:.2f} x")


def _pages(client, sheets):
    """{what: median milliseconds} with the demo's sheets and with MANY."""
    live = {"headers": {"hx-request": "true"}}
    rows = [
        ("empty Django page", "/empty/", {}),
        ("one sum, form to fragment", "/plan/?seconds=4&kind=seconds", live),
    ]
    rows += [(f"{what} with {sheets} sheets", address, {}) for what, address in VIEWS.items()]
    times = _time(client, rows)
    fill(MANY)
    rows = [rows[0], (f"one sum with {MANY} sheets", "/plan/?seconds=4&kind=seconds", live)]
    rows += [(f"{what} with {MANY} sheets", address, {}) for what, address in VIEWS.items()]
    times |= {name: ms for name, ms in _time(client, rows).items() if name not in times}
    for what in VIEWS:
        few, many = (times[f"{what} with {count} sheets"] for count in (sheets, MANY))
        print(f"{what:<36} {many / few:8.2f} x with {MANY} sheets what it is with {sheets}")
    return times


# Brings a log into an installation of its own and writes it again; prints both times [s].
BRING = """
import os, sys, time
os.environ |= {"CHIMNEY_DATA": sys.argv[1], "DJANGO_SETTINGS_MODULE": "chimney.settings"}
os.mkdir(sys.argv[1])
import django
django.setup()
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from chimney.exchange.whole import files, flows
call_command("migrate", verbosity=0)
start = time.perf_counter()
with open(sys.argv[2], "rb") as log:
    stored = files.store(SimpleUploadedFile("log.zip", log.read()))
bringing = flows.hand_over(stored, "log.zip")
flows.work(bringing, lambda: None)
flows.work(flows.want(bringing), lambda: None)
took = time.perf_counter() - start
start = time.perf_counter()
with open(f"{sys.argv[2]}.again", "wb") as out:
    files.write(out)
print(took, time.perf_counter() - start)
"""


def _round_trip():
    """The whole log out, into an empty installation and out again, against SQLite's own dump of the
    same rows, read into an empty file.
    """
    import sqlite3

    from django.conf import settings

    from chimney.exchange.whole import files

    with tempfile.TemporaryDirectory() as empty:
        start = time.perf_counter()
        with sqlite3.connect(settings.DATABASES["default"]["NAME"]) as source:
            dump = "\n".join(source.iterdump())
        with sqlite3.connect(Path(empty) / "dump.sqlite3") as target:
            target.executescript(dump)
        plain = time.perf_counter() - start
        log, start = Path(empty) / "log.zip", time.perf_counter()
        with log.open("wb") as out:
            files.write(out)
        took = [time.perf_counter() - start]
        command = [sys.executable, "-c", BRING, f"{empty}/there", str(log)]
        output = subprocess.run(command, cwd=ROOT, check=True, stdout=subprocess.PIPE, text=True)
        took += map(float, output.stdout.split()[-2:])
    base = "SQLite's own dump and back"
    print(f"{base:<36} {plain:8.2f} s")
    names = f"the log of {MANY} sheets out", "looked through and brought in", "out again"
    for name, seconds in zip((*names, "all three"), (*took, sum(took)), strict=True):
        print(f"{name:<36} {seconds:8.2f} s    {seconds / plain:7.1f} x {base}")


def _day(client, base):
    """The plan of a day with 20 shots, re-flowed after a drag, from form to fragment."""
    from chimney.field.models import Outing, Shot

    outing = Outing.objects.first()
    like = outing.shots.filter(beside=None).first()
    for _ in range(20 - outing.shots.count()):
        like.pk = None
        like.save()
    shot, live = Shot.objects.filter(outing=outing, beside=None).first(), {"hx-request": "true"}
    times_ms = []
    for turn in range(ROUNDS // 2):
        start = time.perf_counter()
        place = {"dragged": f"{shot.pk} {300 + turn * 5} 0"}
        answer = client.post(f"/plan/outings/{outing.pk}/move/", place, headers=live)
        times_ms.append((time.perf_counter() - start) * 1000)
        assert answer.status_code == 200, answer.status_code
    ms = statistics.median(times_ms)
    print(
        f"{'a day of 20 shots after a drag':<36} {ms:8.2f} ms   {ms / base:7.1f} x the empty page"
    )


def _sun(client):
    """A full year at 2-minute steps from nothing, and re-planned after a drag, against one plain
    call of pvlib.
    """
    import datetime

    import numpy as np
    import pandas
    from pvlib.solarposition import spa_python

    from chimney.places.models import Place
    from chimney.solar import craft as flows
    from pinhole import solargraph
    from pinhole.projection import CanBack, Pointing

    year = datetime.date(2026, 1, 1), datetime.date(2026, 12, 31)
    utc = np.arange(
        np.datetime64("2026-01-01"), np.datetime64("2027-01-01"), np.timedelta64(2, "m")
    )
    can, sun_track = CanBack(66, 177.8, 120), solargraph.track(57.1, 19.6, *year, utc_offset_h=1)
    place = Place.objects.get(name="Rauholm")
    address = f"/plan/sun/?place={place.pk}&first_day={year[0]}&last_day={year[1]}&azimuth_deg=180"
    address += "&kind=span&climate=coast&view=positive"
    calls = {
        "pvlib, the same instants": lambda: spa_python(pandas.DatetimeIndex(utc), 57.1, 19.6),
        "a year's survey from nothing": lambda: solargraph.survey(
            57.1, 19.6, can, Pointing(180, 14), *year, utc_offset_h=1
        ),
        "the same after a drag": lambda: solargraph.summed(
            solargraph.trails(sun_track, can, Pointing(181, 14))
        ),
        "a drag, form to both drawings": lambda: client.get(
            f"{address}&tilt_deg=14", headers={"hx-request": "true"}
        ),
        "how it stands best": lambda: client.get(
            f"/plan/sun/best/{address.removeprefix('/plan/sun/')}&tilt_deg=14&goal=year"
        ),
        "the planner's page from nothing": lambda: (
            flows._track.cache_clear(),
            client.get(f"{address}&tilt_deg=14"),
        ),
    }
    _against_pvlib(calls | _of_light(client) | _of_photo(client) | _clicked())


def _of_light(client):
    """{what: a call} of a year of light, and of when it comes back."""
    import datetime

    import numpy as np

    from chimney.field.hours.craft import outlook
    from chimney.kit.models import Camera
    from pinhole import sun

    years = datetime.date(2026, 1, 1), datetime.date(2027, 12, 31)
    then = np.datetime64("2026-04-09T10:40")
    instants = np.datetime64("2026-01-01") + np.arange(35_040) * np.timedelta64(15, "m")
    cameras = Camera.objects.in_use().order_by("pk").values_list("pk", flat=True)[:2]
    address, live = "/plan/year/?azimuth_deg=320", {"hx-request": "true"}
    turns = iter(range(10**6))

    def looked_anew():
        outlook.daylong.cache_clear()
        return client.get(address)

    def another_camera():
        return client.get(f"{address}&camera={cameras[next(turns) % 2]}", headers=live)

    dragged = f"{address}&dragged=read+300+200+moving"
    return {
        "the sun's own year, by quarters of hours": lambda: sun.position(instants, 57.1, 19.6),
        "a year of light, form to charts, table, today": looked_anew,
        "the same with another camera": another_camera,
        "the same while its cross is dragged": lambda: client.get(dragged, headers=live),
        "when the sun stands again, two years": lambda: sun.again(then, 57.1, 19.6, *years),
    }


def _of_photo(client):
    """{what: a call} of a photo of 12 megapixels: brought in, and a spot of it dragged."""
    import io

    import numpy as np
    from django.core.files.uploadedfile import SimpleUploadedFile
    from PIL import Image

    from chimney.field.models import ScenePhoto
    from pinhole.densitometry import coded
    from pinhole.imaging import view

    light = np.clip(view(3, 750, 1000) * 0.18, 0, 1)
    shades = np.asarray(coded(light)).astype(np.uint8).repeat(4, axis=0).repeat(4, axis=1)
    exif, out = Image.Exif(), io.BytesIO()
    exif.get_ifd(0x8769).update({33434: 1 / 800, 33437: 1.8, 34855: 50, 41989: 24})
    Image.fromarray(shades).convert("RGB").save(out, "JPEG", exif=exif, quality=95)

    def brought():
        file = SimpleUploadedFile("scene.jpg", out.getvalue())
        page = client.post("/plan/photo/", {"photo": file}, follow=True)
        return client.get(f"{page.redirect_chain[-1][0]}print.png")

    brought()
    url = f"/plan/photo/{ScenePhoto.objects.first().pk}/?dragged=middle+200+100+moving"
    return {
        "a photo of 12 megapixels, to its print": brought,
        "a spot of it dragged": lambda: client.get(url, headers={"hx-request": "true"}),
    }


def _clicked():
    """{what: a call} of how a can stood, after its sixth click."""
    import datetime
    from dataclasses import replace

    import numpy as np

    from chimney.solar.craft import predict
    from chimney.solar.marks import craft
    from chimney.solar.marks.forms import PictureMark
    from chimney.solar.models import Solargraph
    from pinhole.scans.place import UNIT_SQUARE

    can = Solargraph.objects.filter(sheet__stage="scanned").first()
    aim, back = can.stands[0][1], can.camera.geometry
    trails = predict(can.place, can.camera, aim, *can.days_of, skyline=can.skyline).trails
    spots = []
    for row in np.flatnonzero(trails.on_paper.any(axis=1))[[0, 0, -1, -1]]:
        # Early and late on the first and on the last day with sun on the paper.
        seen = np.flatnonzero(trails.on_paper[row])
        at = seen[len(seen) * (1 + 5 * (len(spots) % 2)) // 8]
        day = trails.track.days[row].astype(datetime.date)
        spots.append((trails.x_mm[row, at], trails.y_mm[row, at], day))
    # Trails alone tell no direction: two points of the skyline do.
    for azimuth_deg in (aim.azimuth_deg - 30, aim.azimuth_deg + 30):
        landing = back.land(aim, azimuth_deg, 8.0)
        spots.append((landing.x_mm, landing.y_mm, (azimuth_deg, 8.0)))
    marks = [
        PictureMark((x / back.half_mm[0] + 1) / 2, (y / back.half_mm[1] + 1) / 2, on)
        for x, y, on in spots
    ]
    laid, strays = craft.Laid(UNIT_SQUARE), [*marks[:-1], replace(marks[-1], down=0.9)]
    return {
        "how a can stood, by six clicks": lambda: craft.stood(can, marks, laid),
        "the same, one of them wrong": lambda: craft.stood(can, strays, laid),
    }


def _against_pvlib(calls):
    base = None
    for name, call in calls.items():
        call()
        times_ms = []
        for _ in range(3 if base is None else 9):
            start = time.perf_counter()
            call()
            times_ms.append((time.perf_counter() - start) * 1000)
        ms = statistics.median(times_ms)
        base = base or ms
        print(f"{name:<46} {ms:8.2f} ms   {ms / base:7.3f} x pvlib")


def _hole():
    """A pinhole found and measured in 20 megapixels, against one plain threshold of the same
    picture.
    """
    import cv2
    import numpy as np

    from pinhole import imaging as hole

    picture = np.full((4000, 5000), 40, np.uint8)
    cv2.circle(picture, (2600, 1700), 20, 210, -1, cv2.LINE_AA)
    picture = cv2.GaussianBlur(picture, (0, 0), 0.8)
    times_ms = {"one threshold of 20 megapixels": [], "a hole measured in them": []}
    for _ in range(9):
        for name, call in zip(
            times_ms,
            (
                lambda: cv2.threshold(picture, 0, 255, cv2.THRESH_OTSU),
                lambda: hole.measure(picture, 25.4 / 2400),
            ),
            strict=True,
        ):
            start = time.perf_counter()
            call()
            times_ms[name].append((time.perf_counter() - start) * 1000)
    plain, found_ms = (statistics.median(times) for times in times_ms.values())
    for name, ms in zip(times_ms, (plain, found_ms), strict=True):
        print(f"{name:<36} {ms:8.2f} ms   {ms / plain:7.1f} x one threshold")


def _time(client, rows, right=(200,)):
    """Median milliseconds a row, the rows taken in turn so that a slow moment hits all alike."""
    times_ms = {name: [] for name, *_ in rows}
    for _ in range(ROUNDS):
        for name, url, options in rows:
            start = time.perf_counter()
            answer = client.get(url, **options)
            times_ms[name].append((time.perf_counter() - start) * 1000)
            assert answer.status_code in right, (name, answer.status_code)
    return {name: statistics.median(times) for name, times in times_ms.items()}


def _lessons():
    """Learning anew from all sheets: the craft's part against one plain least squares of that size,
    and the whole flow.
    """
    import numpy as np

    from chimney.kit.models import Paper
    from chimney.lessons import flows, queries
    from chimney.lessons.whole.craft import Eyes, whole_log
    from chimney.lessons.whole.queries import shelf
    from chimney.results.training.queries import eye, eyes

    columns = queries.counted_columns()
    papers = Paper.objects.in_bulk(set(columns["paper_id"]))
    asked = columns, papers, Eyes(eye(), eyes()), shelf()
    log = whole_log(*asked)
    size = len(columns["pk"]), len(log.learned.names)
    rows, targets = np.random.default_rng(1).normal(size=size), np.ones(size[0])
    times_ms = {}
    for name, call in (
        ("plain least squares", lambda: np.linalg.lstsq(rows, targets, rcond=None)),
        ("the log learned anew", lambda: whole_log(*asked)),
        ("the same with all that is kept", flows.relearn),
    ):
        began = time.perf_counter()
        call()
        times_ms[name] = 1000 * (time.perf_counter() - began)
    base = times_ms["plain least squares"]
    for name, ms in times_ms.items():
        print(
            f"{name:<36} {ms:8.2f} ms   {ms / base:7.1f} x least squares of {size[0]} x {size[1]}"
        )


def _read(client, base):
    """The pages of a scan whose preview is of real size, and a dragged tone."""
    import numpy as np

    from chimney.parts import previews
    from chimney.results.models import Preview, Scan
    from demo import pictures

    pictures.scan_all(3)
    scan = Scan.objects.exclude(sheet=None).exclude(sheet__paper__kind="solargraph").first()
    small = previews.array_of(scan.preview.jpeg)
    large = previews.scaled(small, 1400 / small.shape[1])
    grain = np.random.default_rng(0).normal(0, 3, large.shape)
    large = np.clip(large + grain, 0, 255).astype(np.uint8)
    Preview.objects.filter(scan=scan).update(jpeg=previews.jpeg(large))
    page = f"/read/scans/{scan.pk}/"
    tones = "inverted=on&mirrored=on&quarters=0&low_percent=0.5&high_percent=99.5&gamma=1"
    tones += "&straighten_deg=0&crop_left=0&crop_right=0&crop_top=0&crop_bottom=0"
    again = {"if-none-match": client.get(f"{page}positive.jpg")["ETag"]}
    rows = [
        ("a scan, its preview 1400 px long", page, {}),
        ("its sheet before the judge", f"/read/{scan.sheet.code}/", {}),
        (
            "a tone dragged",
            f"{page}?{tones}&dragged=white+400+98+moving",
            {"headers": {"hx-request": "true"}},
        ),
        ("its positive, that the browser has", f"{page}positive.jpg", {"headers": again}),
    ]
    for name, ms in _time(client, rows, (200, 304)).items():
        print(f"{name:<36} {ms:8.2f} ms   {ms / base:7.1f} x the empty page")


def _scan(client):
    """A scan of 300 megapixels and 16 bits against the plain calls of the library."""
    import pyvips

    from chimney.results.scans import craft, files

    with tempfile.TemporaryDirectory() as place:
        scan_path, plain = Path(place) / "scan.tif", Path(place) / "plain.tif"
        noise = pyvips.Image.gaussnoise(20_000, 15_000, mean=30_000, sigma=4_000).cast("ushort")
        noise.copy(interpretation="grey16").write_to_file(str(scan_path))
        files.folder().mkdir(parents=True, exist_ok=True)
        took = {}
        for name, call in (
            (
                "a plain small copy",
                lambda: pyvips.Image.thumbnail(str(scan_path), 1400).write_to_memory(),
            ),
            ("a scan looked through", lambda: files.look_through(scan_path)),
            ("a plain copy", lambda: _copied(pyvips, scan_path, plain)),
            ("its positive, 16 bits", lambda: _exported(files, craft, scan_path)),
        ):
            began = time.perf_counter()
            call()
            took[name] = time.perf_counter() - began
        quiet, busy = _beside(client, scan_path)
    print(f"{'the Hearth while a scan is made':<36} {busy:8.2f} ms   {busy / quiet:7.1f} x alone")
    for name, base in (
        ("a scan looked through", "a plain small copy"),
        ("its positive, 16 bits", "a plain copy"),
    ):
        print(f"{name:<36} {took[name]:8.2f} s    {took[name] / took[base]:7.1f} x {base}")


def _beside(client, scan_path):
    """(the Hearth's time alone, while another process writes the positive of a large scan)."""
    address = [("the Hearth", "/", {})]
    quiet = _time(client, address)["the Hearth"]
    code = (
        "import django; django.setup(); from chimney.results.scans import craft, files; "
        "tones = craft.Tones(True, (10.0,), (245.0,), 1.2, True, 0); "
        f"files.export({str(scan_path)!r}, 'tif', tones).close()"
    )
    with subprocess.Popen([sys.executable, "-c", code], cwd=ROOT) as process:
        time.sleep(3)
        busy = _time(client, address)["the Hearth"]
        assert process.poll() is None, "the scan was done before the page was timed"
        process.kill()
    return quiet, busy


def _copied(pyvips, scan_path, plain):
    image = pyvips.Image.new_from_file(str(scan_path), access="sequential")
    image.write_to_file(f"{plain}[compression=lzw,predictor=horizontal]")


def _exported(files, craft, scan_path):
    tones = craft.Tones(True, (10.0,), (245.0,), 1.2, True, 0)
    files.export(scan_path, "tif", tones).close()


if __name__ == "__main__":
    main()
