"""JSON from outside, of which every value can be computed with, kept and shown again."""

import json
import math
import re

# The widest whole number that a database keeps.
LARGEST_INTEGER = 2**63 - 1
SPACE = re.compile(r"[ \t\r\n]*")
# Half of a character of two, which no text in UTF-8 may hold, as JSON can spell it.
HALF = re.compile(r"\\u[dD][89a-fA-F]")


def loads(text):
    """Value of a JSON text. Raises ValueError for what is none, is nested too deeply, or holds
    numbers without end, whole numbers beyond a database's, or halves of characters.
    """
    if isinstance(text, bytes | bytearray):
        text = text.decode(json.detect_encoding(text))
    value, end = scan(text, SPACE.match(text).end())
    if SPACE.match(text, end).end() < len(text):
        raise ValueError("something follows its end")
    return value


def scan(text, start):
    """(value that begins there in a text, where it ends). Raises ValueError as loads()."""
    try:
        value, end = DECODER.raw_decode(text, start)
    except RecursionError as error:
        raise ValueError("nested too deeply") from error
    if HALF.search(text, start, end):
        # As UTF-8 it cannot be written. Raises UnicodeEncodeError, which is a ValueError.
        json.dumps(value, ensure_ascii=False).encode()
    return value, end


def _no_number(word):
    raise ValueError(f"{word} is no number in JSON")


def _finite(word):
    number = float(word)
    if not math.isfinite(number):
        _no_number(word)
    return number


def _countable(word):
    number = int(word)
    if abs(number) > LARGEST_INTEGER:
        _no_number(f"{word[:20]}...")
    return number


DECODER = json.JSONDecoder(parse_constant=_no_number, parse_float=_finite, parse_int=_countable)
