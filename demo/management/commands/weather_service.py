from datetime import date, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs, urlparse

import numpy as np

from chimney.parts.commands import PagelessCommand
from pinhole.solargraph import climate

MOST_DAYS = 3660
COAST = next(one for one in climate.CLIMATES if one.code == "coast")


class Command(PagelessCommand):
    help = "A simulated service of daily sunshine: /days.csv?latitude=57&from=2026-01-01&until=..."

    def add_arguments(self, parser):
        parser.add_argument("--port", type=int, default=8090)

    def handle(self, *, port, **options):
        self.stdout.write(f"http://127.0.0.1:{port}/days.csv, until stopped")
        ThreadingHTTPServer(("127.0.0.1", port), Handler).serve_forever()


class Handler(BaseHTTPRequestHandler):
    def do_GET(self):
        try:
            body, status = table(parse_qs(urlparse(self.path).query)).encode(), 200
        except (KeyError, ValueError) as error:
            body, status = f"wrong: {error}".encode(), 400
        self.send_response(status)
        self.send_header("Content-Type", "text/csv; charset=utf-8")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *words):
        """Says nothing."""


def table(query):
    """date,hours as CSV, for a latitude and some days. Raises KeyError or ValueError."""
    first, last = (date.fromisoformat(query[name][0]) for name in ("from", "until"))
    count = (last - first).days + 1
    if not 1 <= count <= MOST_DAYS:
        raise ValueError("from 1 to 3660 days")
    days = [first + timedelta(days=n) for n in range(count)]
    latitude = float(query["latitude"][0])
    shares = climate.sunshine(COAST, latitude, np.array(days, "datetime64[D]"))
    rows = [f"{day},{12 * share:.1f}" for day, share in zip(days, shares, strict=True)]
    return "\n".join(["date,hours", *rows]) + "\n"
