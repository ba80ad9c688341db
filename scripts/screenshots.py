"""Pictures of the main views from the demo data, at a clock that stands still.

Usage: python scripts/screenshots.py [FOLDER [NAME ...]]     default: docs/screenshots, every view
"""

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
NOON = "2026-11-24T11:41:00+00:00"
PORT = 8917
WIDE, PHONE = (1280, 800), (360, 740)
READING = (
    "?kind=seconds&seconds=4&meter_f=90&meter_iso=6&subject=slipway, from the pump "
    "house&camera=1&paper=1&reckon=on"
)
SPAN = "?place=1&first_day=2026-12-21&last_day=2027-06-21"
# Six clicks on the archived can's picture: both ends of its horizon, of its first trail and of its
# longest.
MARKS = "&".join(
    f"m={mark}"
    for mark in (
        "0.0179,0.5136,horizon",
        "0.9825,0.5061,horizon",
        "0.3201,0.5568,2025-12-19",
        "0.6557,0.5552,2025-12-19",
        "0.0084,0.4233,2026-06-21",
        "0.9928,0.4257,2026-06-21",
    )
)
# name: address, window, whole page; an address may name what is looked for
VIEWS = {
    "hearth": ("/", WIDE, False),
    "kit": ("/kit/", WIDE, False),
    "camera": ("/kit/camera/4/", WIDE, False),
    "door": ("/begin/minutes/", WIDE, False),
    "year": ("/plan/year/?azimuth_deg=320&day=2027-03-13&hour=14:30", (1280, 1000), False),
    "plan": (f"/plan/{READING}", WIDE, False),
    "plan-phone": (f"/plan/{READING}", PHONE, True),
    "outing": ("/plan/outings/1/", WIDE, False),
    "sun": (f"/plan/sun/{SPAN}&azimuth_deg=180&tilt_deg=14.5", WIDE, False),
    "cans": ("/expose/cans/", WIDE, False),
    "timer": ("{timer}", WIDE, False),
    "develop": ("/develop/", WIDE, False),
    "run": ("{run}", WIDE, False),
    "scan": ("{scan}", (1280, 1100), False),
    "stood": ("{stood}", (1280, 1000), False),
    "read": ("{judge}", WIDE, False),
    "learn": ("/learn/", WIDE, False),
    "photo": ("/plan/photo/2/", (1280, 1000), False),
    "sheet": ("{sheet}", WIDE, False),
}


def main(folder, names):
    folder.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data:
        env = os.environ | {
            "CHIMNEY_DATA": data,
            "CHIMNEY_FROZEN_NOW": NOON,
            "CHIMNEY_ZONE": "Europe/Stockholm",
            "DJANGO_SETTINGS_MODULE": "chimney.settings",
        }
        for command in (["prepare"], ["demo"], ["collectstatic", "--noinput", "-v0"]):
            subprocess.run([sys.executable, "manage.py", *command], cwd=ROOT, env=env, check=True)
        server = subprocess.Popen(
            [
                sys.executable,
                "-m",
                "gunicorn",
                "chimney.wsgi",
                "-b",
                f"127.0.0.1:{PORT}",
                "--log-level",
                "error",
            ],
            cwd=ROOT,
            env=env,
        )
        try:
            _take(folder, names or VIEWS)
        finally:
            server.terminate()
            server.wait()


def _take(folder, names):
    from playwright.sync_api import sync_playwright

    from tests.browser.chromium import launch

    home = f"http://127.0.0.1:{PORT}"
    for _ in range(100):
        try:
            urllib.request.urlopen(home)
            break
        except OSError:
            time.sleep(0.1)
    with sync_playwright() as playwright:
        browser = launch(playwright)
        page = browser.new_page()
        page.goto(home)
        addresses = {"timer": page.locator("[data-timer]").last.get_attribute("href")}
        addresses["run"] = page.locator("[aria-labelledby=wet] .fire").first.get_attribute("href")
        page.goto(f"{home}/read/")
        page.goto(f"{home}/expose/cans/")
        archived = page.locator("a", has_text="Can 2,").first.get_attribute("href")
        addresses["stood"] = f"{archived}stood/?{MARKS}"
        page.goto(f"{home}/read/scans/")
        addresses["scan"] = page.locator(".stamp").nth(2).get_attribute("href")
        page.goto(f"{home}/read/")
        addresses["judge"] = page.locator(".strip").first.get_attribute("href")
        page.goto(f"{home}/sheets/?page=2")
        addresses["sheet"] = page.locator("a.strip-read").first.get_attribute("href")
        for name in names:
            address, (width, height), full_page = VIEWS[name]
            context = browser.new_context(
                viewport={"width": width, "height": height}, color_scheme="light"
            )
            page = context.new_page()
            page.goto(home + address.format(**addresses))
            page.wait_for_load_state("networkidle")
            page.screenshot(path=folder / f"{name}.png", full_page=full_page)
            context.close()
        browser.close()


if __name__ == "__main__":
    target = Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "docs" / "screenshots"
    main(target, sys.argv[2:])
