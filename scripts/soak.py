"""Twenty people at work for a minute: each a request a second, reading and writing; no error, p95
of what they tap at a hole under 300 ms, and of all they ask for in a second. Then the same while a
log of 10,000 sheets is brought in and a scan of 300 megapixels is looked through beside them, and
somebody turns the planner of cans over 20 spans of days.

Starts the server as `make run` does, over a demo year of its own in a folder that goes afterwards.
Everything stays on this machine, and stops by itself.
"""

import http.client
import os
import random
import re
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from socket import socket
from urllib.parse import urlencode

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from scripts import many  # noqa: E402 - found only now

PEOPLE, SECONDS, PAUSE_S, MOST_TAP_P95_S, MOST_P95_S = 20, 60, 1.0, 0.3, 1.0
SHEETS, SPANS, MOST_SPAN_P95_S = 10_000, 20, 1.0
KIT = """
import django; django.setup()
from chimney.kit.models import Camera, Holder
plank = Camera.objects.get(name="Plank")
for number in range(%d):
    plank.pk, plank.name = None, f"Box {number}"
    plank.save(force_insert=True)
    Holder.objects.create(name=f"H{number}", size=plank.size)
    print(plank.pk, Holder.objects.get(name=f"H{number}").pk)
"""


class Person(threading.Thread):
    """One browser: its cookies, its camera and holder, and the times that its answers took."""

    def __init__(self, port, number, camera, holder, until, pause_s):
        super().__init__()
        self.port, self.camera, self.holder, self.until, self.pause_s = (
            port,
            camera,
            holder,
            until,
            pause_s,
        )
        self.number = number
        self.chance, self.times, self.wrong = random.Random(number), [], []
        self.line, self.cookies, self.token, self.exposure = None, "", "", None
        self.running = self.loaded = False

    def ask(self, method, path, data=None, live=False):
        """One request, timed; (status, body, location)."""
        headers = {"Cookie": self.cookies, "Accept-Encoding": "gzip"} | (
            {"HX-Request": "true"} if live else {}
        )
        body = None
        if data is not None:
            body = urlencode({**data, "csrfmiddlewaretoken": self.token}, doseq=True)
            headers["Content-Type"] = "application/x-www-form-urlencoded"
        began = time.monotonic()
        try:
            self.line = self.line or http.client.HTTPConnection("127.0.0.1", self.port, timeout=30)
            self.line.request(method, path, body, headers)
            answer = self.line.getresponse()
            raw = answer.read()
        except (OSError, http.client.HTTPException) as error:
            self.wrong.append(f"{method} {path}: {error!r}")
            self.line = None
            return 0, "", ""
        self.times.append((time.monotonic() - began, f"{method} {path.partition('?')[0]}"))
        if answer.status >= 400:
            self.wrong.append(f"{method} {path}: {answer.status}")
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            if cookie.startswith("csrftoken="):
                self.cookies = cookie.partition(";")[0]
        if answer.headers.get("Content-Encoding") == "gzip":
            import gzip

            raw = gzip.decompress(raw)
        text = raw.decode("utf-8", "replace")
        match = re.search(r'name="csrfmiddlewaretoken" value="([^"]+)"', text)
        self.token = match[1] if match else self.token
        return answer.status, text, answer.headers.get("Location", "")

    def about(self):
        """Looking about: pages that ask for no camera of one's own."""
        requests = [
            lambda: self.ask("GET", "/plan/sun/"),
            lambda: self.ask(
                "POST",
                "/plan/sun/",
                {"place": 1, "azimuth_deg": self.chance.randrange(360)},
                live=True,
            ),
        ]
        for path in ("/sheets/?q=R-", "/learn/", "/plan/outings/1/", "/kit/", "/expose/cans/"):
            requests.append(lambda p=path: self.ask("GET", p))
        return requests

    def steps(self):
        """The work of somebody at a camera, over and over: plan, open, cover, close, unload, look
        about.
        """
        plan = {
            "kind": "seconds",
            "seconds": "2",
            "meter_f": "128",
            "meter_iso": "6",
            "camera": self.camera,
            "paper": 1,
        }
        plan |= {
            "for_paper": 1,
            "ei_from": "learned",
            "school": "none",
            "ev_iso": "100",
            "sky": "sun",
            "height": "high",
        }
        about = self.about()
        # Twenty people do not do the same thing in the same second: each begins somewhere else.
        yield lambda: self.ask("GET", "/")
        yield from (about * 3)[len(about) * 3 - self.number :]
        while True:
            yield lambda: self.ask("GET", "/")
            yield lambda: self.ask("GET", f"/plan/?{urlencode(plan)}")
            for seconds in ("3", "30"):
                yield lambda s=seconds: self.ask(
                    "GET", f"/plan/?{urlencode(plan | {'seconds': s})}", live=True
                )
            yield lambda: self.open(plan | {"side": f"{self.holder}A", "open": ""})
            yield lambda: self.ask("GET", f"/expose/{self.exposure}/")
            yield lambda: self.ask("GET", f"/expose/{self.exposure}/", live=True)
            for word in ("cover", "uncover", "close", "slide-back"):
                yield lambda w=word: self.shut(w)
            yield self.unload
            yield from about

    def open(self, data):
        _, _, location = self.ask("POST", "/plan/", data)
        match = re.search(r"/expose/(\d+)/", location)
        self.exposure = match[1] if match else self.exposure
        self.running = self.loaded = bool(match)

    def shut(self, word):
        self.ask("POST", f"/expose/{self.exposure}/{word}/", {}, live=True)
        self.running = self.running and word != "close"

    def unload(self):
        _, text, _ = self.ask("GET", "/expose/")
        part = re.search(rf"<h2>\s*Holder {re.escape(self.holder_name)}\s.*?</article>", text, re.S)
        match = part and re.search(r"/expose/unload/(\d+)/", part[0])
        if match:
            self.ask("POST", f"/expose/unload/{match[1]}/", {})
            self.loaded = False

    def tidy(self):
        """Leave camera and holder as they were found, off the record."""
        times = len(self.times)
        for word in ("close", "slide-back") if self.running else ():
            self.ask("POST", f"/expose/{self.exposure}/{word}/", {}, live=True)
        if self.loaded:
            self.unload()
        del self.times[times:]

    def run(self):
        time.sleep(self.chance.random() * min(1.0, self.pause_s or 0.1))
        for step in self.steps():
            if time.monotonic() >= self.until:
                self.tidy()
                return
            began = time.monotonic()
            step()
            time.sleep(max(0.0, self.pause_s - (time.monotonic() - began)))


def served(folder):
    """(server, port, [(camera, holder)]) over a demo year."""
    with socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    env = os.environ | {
        "CHIMNEY_DATA": folder,
        "CHIMNEY_ZONE": "Europe/Stockholm",
        "CHIMNEY_BIND": f"127.0.0.1:{port}",
    }
    env |= {"DJANGO_SETTINGS_MODULE": "chimney.settings"}
    for command in ("prepare", "demo", "collectstatic --noinput --verbosity 0"):
        subprocess.run(
            [sys.executable, "manage.py", *command.split()],
            cwd=ROOT,
            env=env,
            check=True,
            capture_output=True,
        )
    kit = subprocess.run(
        [sys.executable, "-c", KIT % PEOPLE],
        cwd=ROOT,
        env=env,
        check=True,
        capture_output=True,
        text=True,
    )
    pairs = [tuple(map(int, line.split())) for line in kit.stdout.splitlines()]
    server = subprocess.Popen(
        [sys.executable, "-m", "gunicorn", "chimney.wsgi", "--log-level", "critical"],
        cwd=ROOT,
        env=env,
    )
    for _ in range(200):
        try:
            http.client.HTTPConnection("127.0.0.1", port, timeout=5).request("GET", "/keys/")
            return server, port, pairs, env
        except OSError:
            time.sleep(0.1)
    raise SystemExit("The server does not answer.")


def token(env):
    """Token by which a sensor is let in."""
    code = "import django; django.setup(); from chimney.exchange.feed.flows import let_in; "
    code += "print(let_in('soak')[1])"
    output = subprocess.run(
        [sys.executable, "-c", code], cwd=ROOT, env=env, check=True, capture_output=True, text=True
    )
    return output.stdout.strip()


class Planner(threading.Thread):
    """Asks for the days of a can over one span after the other, and how it stands best."""

    def __init__(self, port, until):
        super().__init__()
        self.person = Person(port, 99, 0, 0, until, 0.0)
        self.until = until

    def run(self):
        self.person.ask("GET", "/plan/sun/")
        self.person.times.clear()
        span = 0
        while time.monotonic() < self.until:
            first = 1 + span % 12
            days = {"first_day": f"2026-{first:02d}-0{1 + span % 9}", "last_day": "2027-06-21"}
            stands = {"place": 1, "tilt_deg": span % SPANS, "azimuth_deg": 180, "camera": 1}
            self.person.ask("POST", "/plan/sun/", days | stands, live=True)
            span += 1
            time.sleep(0.5)


class Owner(Person):
    """Brings in a log of thousands of sheets and a scan of 300 megapixels, and waits for both."""

    def __init__(self, port, log):
        super().__init__(port, 98, 0, 0, 0, 0.0)
        self.log, self.took_s = log, {}

    def send_log(self):
        """The page of what was handed over."""
        self.ask("GET", "/data/")
        data, kind = many.form(self.token, self.log.read_bytes())
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=120)
        line.request("POST", "/data/", data, {"Cookie": self.cookies, "Content-Type": kind})
        answer = line.getresponse()
        answer.read()
        return answer.headers["Location"]

    def until_it_says(self, page, *words):
        for _ in range(600):
            _, text, _ = self.ask("GET", page)
            if any(word in text for word in words):
                return text
            time.sleep(0.5)
        self.wrong.append(f"{page} never says {words}")
        return ""

    def run(self):
        began = time.monotonic()
        page = self.send_log()
        self.until_it_says(page, "would come in", "not taken in")
        self.took_s["looked through"] = time.monotonic() - began
        self.ask("POST", f"{page}bring/", {})
        began = time.monotonic()
        text = self.until_it_says(page, "came in", "not taken in")
        self.took_s["brought in"] = time.monotonic() - began
        if "came in" not in text:
            self.wrong.append("the log was not brought in")
        self.until_it_says("/read/scans/", "large.tif")
        while "waits to be looked" in self.ask("GET", "/read/scans/")[1]:
            time.sleep(0.5)
        self.took_s["the scan too"] = time.monotonic() - began


def large_scan(path):
    """A scan of 300 megapixels in 16 bits, as noisy as paper."""
    import pyvips

    noise = pyvips.Image.gaussnoise(20_000, 15_000, mean=30_000, sigma=4_000).cast("ushort")
    noise.write_to_file(str(path))


class Sensor(threading.Thread):
    """Sends its light twice a second for as long as people work."""

    def __init__(self, port, token, until):
        super().__init__()
        self.port, self.token, self.until, self.answers = port, token, until, []

    def run(self):
        head = {"Authorization": f"Bearer {self.token}"}
        head["Content-Type"] = "application/x-www-form-urlencoded"
        while time.monotonic() < self.until:
            line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
            line.request("POST", "/data/light/", f"lux={len(self.answers) + 1}", head)
            self.answers.append(line.getresponse().status)
            line.close()
            time.sleep(0.5)


def at_work(port, pairs, people, seconds, pause_s):
    """Let them work; (times, wrong)."""
    until = time.monotonic() + seconds
    persons = [Person(port, number, *pairs[number], until, pause_s) for number in range(people)]
    for number, person in enumerate(persons):
        person.holder_name = f"H{number}"
        person.start()
    for person in persons:
        person.join()
    return [time for person in persons for time in person.times], [
        sentence for one in persons for sentence in one.wrong
    ]


def taps(times):
    """The times of what is tapped while a clock runs, or to set one going."""
    return [row for row in times if row[1].startswith("POST ") and row[1] != "POST /plan/sun/"]


def report(title, times, wrong):
    """A line of figures; the slowest addresses below it."""
    spent = sorted(seconds for seconds, _ in times)
    p50, p95 = (spent[int(len(spent) * share)] for share in (0.5, 0.95))
    print(
        f"{title}: {len(times)} requests, {len(wrong)} wrong, p50 {p50 * 1000:.0f} ms, "
        f"p95 {p95 * 1000:.0f} ms"
    )
    by_path = {}
    for seconds, path in times:
        by_path.setdefault(re.sub(r"\d+", "N", path), []).append(seconds)
    slow = sorted(by_path.items(), key=lambda pair: -sorted(pair[1])[int(len(pair[1]) * 0.95)])[:4]
    for path, found in slow:
        print(
            f"    {path}: p95 {sorted(found)[int(len(found) * 0.95)] * 1000:.0f} ms of {len(found)}"
        )
    for sentence in wrong[:8]:
        print(f"    {sentence}")
    return p95


def report_people(title, times, wrong):
    """p95 of what they tapped, and of all."""
    every = report(f"{PEOPLE} people {title}", times, wrong)
    return report("    what they tapped", taps(times), []), every


def beside_them(port, pairs, folder):
    """(p95 of taps, of all they ask for, of the planner, what went wrong) while the long work is
    done.
    """
    log, inbox = Path(folder) / "many.zip", Path(folder) / "inbox"
    subprocess.run(
        [sys.executable, "scripts/many.py", str(SHEETS), str(log)],
        cwd=ROOT,
        check=True,
        capture_output=True,
    )
    inbox.mkdir(exist_ok=True)
    large_scan(Path(folder) / "large.tif")
    (Path(folder) / "large.tif").rename(inbox / "large.tif")
    owner = Owner(port, log)
    planner = Planner(port, time.monotonic() + SECONDS)
    owner.start()
    planner.start()
    times, wrong = at_work(port, pairs, PEOPLE, SECONDS, PAUSE_S)
    planner.join()
    owner.join()
    took = ", ".join(f"{name} after {seconds:.0f} s" for name, seconds in owner.took_s.items())
    print(f"meanwhile a log of {SHEETS} sheets: {took}")
    p95 = report_people("beside that", times, wrong)
    spans = report("the planner beside that", planner.person.times, planner.person.wrong)
    return *p95, spans, wrong + planner.person.wrong + owner.wrong


def main():
    with tempfile.TemporaryDirectory() as folder:
        server, port, pairs, env = served(folder)
        try:
            at_work(port, pairs, 4, 4, 0.2)
            alone = report("one alone, no pause", *at_work(port, pairs, 1, 10, 0.0))
            sensor = Sensor(port, token(env), time.monotonic() + SECONDS)
            sensor.start()
            times, wrong = at_work(port, pairs, PEOPLE, SECONDS, PAUSE_S)
            sensor.join()
            good = sensor.answers.count(200)
            print(f"a sensor meanwhile: {good} of {len(sensor.answers)} readings taken in")
            tap_p95, p95 = report_people("with a request a second each", times, wrong)
            late_tap_p95, late_p95, spans_p95, faults = beside_them(port, pairs, folder)
            wrong += faults
            report(f"{PEOPLE} people, no pause", *at_work(port, pairs, PEOPLE, 15, 0.0))
            audit = subprocess.run(
                [sys.executable, "manage.py", "audit"],
                cwd=ROOT,
                env=env,
                capture_output=True,
                text=True,
            )
            print(audit.stdout.strip() or audit.stderr.strip())
        finally:
            server.terminate()
            server.wait(20)
    print(f"20 against one alone: {p95 / alone:.1f} x")
    slow = max(tap_p95, late_tap_p95) > MOST_TAP_P95_S
    slow |= max(p95, late_p95) > MOST_P95_S or spans_p95 > MOST_SPAN_P95_S
    return int(bool(wrong) or slow or audit.returncode != 0)


if __name__ == "__main__":
    sys.exit(main())
