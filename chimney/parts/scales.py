"""Numbers as practitioners write them."""

import math
import re
from fractions import Fraction

from pinhole.lessons import CENTRAL_90

FRACTIONS = {0.25: "¼", 0.5: "½", 0.75: "¾"}
THIRDS = {1 / 3: "1/3", 2 / 3: "2/3"}
# A term is a whole, a fraction or a decimal number: "1 1/3", "2/3", "1.5".
STOPS_PATTERN = re.compile(r"([+-]?)\s*(?:(\d+(?:\.\d+)?)(?:\s+|$))?(?:(\d+)/(\d+))?\s*(?:stops?)?")
VULGAR = {"¼": " 1/4", "½": " 1/2", "¾": " 3/4", "⅓": " 1/3", "⅔": " 2/3"}


def number(value, figures=3):
    """The number to so many significant figures, never in exponents."""
    if value == 0 or not math.isfinite(value):
        return "0" if value == 0 else "-"
    places = figures - 1 - math.floor(math.log10(abs(value)))
    rounded = round(value, places)
    text = f"{rounded:,.{max(places, 0)}f}".replace(",", " ")
    return text.rstrip("0").rstrip(".") if "." in text else text


SMALL = {
    0: "no stop",
    1 / 4: "a quarter of a stop",
    1 / 3: "a third of a stop",
    1 / 2: "half a stop",
}
SMALL |= {2 / 3: "two thirds of a stop", 3 / 4: "three quarters of a stop"}


def size_of_stops(stops):
    """Size of stops in words, without the sense: "a third of a stop", "1 stop", "1½ stops"."""
    size = abs(stops)
    if size < 0.875:
        return SMALL[min(SMALL, key=lambda near: abs(near - size))]
    integer, rest = divmod(round(size * 4) / 4, 1)
    return f"{int(integer)}{FRACTIONS.get(rest, '')} {'stop' if integer + rest == 1 else 'stops'}"


# What is surer than this is as good as sure to a third of a stop.
SIXTH = 1 / 6


def doubt(sd_stops):
    """Words for how sure something is nine times in ten, from one standard deviation [stops]."""
    off = CENTRAL_90 * sd_stops
    if off < SIXTH:
        return "surer than a third of a stop"
    thirds = max(1, round(off * 3)) / 3
    return f"give or take {size_of_stops(thirds if off < 1 else off)}"


def stops(value):
    """A signed number of stops for tiles and lists: "+1/3", "0", with a true minus."""
    if abs(value) < 0.05:
        return "0"
    sign = "+" if value > 0 else "−"
    integer, rest = divmod(abs(value), 1)
    for fraction, text in {**FRACTIONS, **THIRDS}.items():
        if abs(rest - fraction) < 0.02:
            gap = " " if integer and "/" in text else ""
            return f"{sign}{int(integer) or ''}{gap}{text}"
    return f"{sign}{number(abs(value), 2)}"


def many_stops(value):
    """The same with its word: "+1 stop", "−1½ stops", "0 stops"."""
    text = stops(value)
    is_single = text.lstrip("+−") in ("1", *FRACTIONS.values(), *THIRDS.values())
    return f"{text} {'stop' if is_single else 'stops'}"


def parse_stops(text):
    """Stops from `1`, `+2/3`, `-1 1/3`, `1½`, `0.5`. Raises ValueError with an example."""
    for sign, ascii_words in VULGAR.items():
        text = text.replace(sign, ascii_words)
    text = text.replace("−", "-").replace("–", "-").replace(",", ".").strip()
    match = STOPS_PATTERN.fullmatch(text) if len(text) <= 20 else None
    if not match or not any(match.groups()[1:]) or (match[4] and int(match[4]) == 0):
        raise ValueError("Stops are written like 1, +2/3, -1 1/3 or 0.5.")
    sign, integer, numerator, under = match.groups()
    size = float(integer or 0) + (float(Fraction(int(numerator), int(under))) if numerator else 0)
    return -size if sign == "-" else size


def typed_stops(value):
    """Stops as a person would type them, so that `parse_stops` gives the very number; "" for 0."""
    text = stops(value)
    exact = abs(parse_stops(text) - value) < 1e-9
    return "" if value == 0 else text if exact else f"{value:.6g}"


COMPASS_POINTS = [
    "N",
    "NNE",
    "NE",
    "ENE",
    "E",
    "ESE",
    "SE",
    "SSE",
    "S",
    "SSW",
    "SW",
    "WSW",
    "W",
    "WNW",
    "NW",
    "NNW",
]


def compass(azimuth_deg):
    """The nearest of the sixteen points."""
    return COMPASS_POINTS[round(azimuth_deg / 22.5) % 16]


def tenths(stops):
    """ "+0.4", with a true minus."""
    return f"{stops:+.1f}".replace("-", "\N{MINUS SIGN}")


def dilution(parts):
    """ "1+10", to three figures; "as mixed" where nothing is diluted."""
    return f"1+{parts:.3g}" if parts else "as mixed"


def counted(number, one, many):
    """3, "sheet", "sheets" -> "3 sheets"; none is said as "no"."""
    return f"{number or 'no'} {one if number == 1 else many}"
