"""JSON that is too long to be held, read from a file piece by piece."""

import codecs
import json

from chimney.parts import plain_json

PIECE_BYTES = 1 << 20
# No single value that is read at once is longer.
MOST_VALUE_CHARACTERS = 20_000_000
CUT_SHORT = "it is cut short"


class JsonStream:
    """Reads values, the members of an object and the items of a list, one after the other, from an
    open file of UTF-8. All raise ValueError for what is no JSON, cut short, or not to be computed
    with, as plain_json.loads().
    """

    def __init__(self, file):
        self.file, self.decoder = file, codecs.getincrementaldecoder("utf-8-sig")()
        self.text, self.at, self.is_through = "", 0, False

    def next_character(self):
        """The next character that is no space, which stays; "" at the end."""
        while True:
            self.at = plain_json.SPACE.match(self.text, self.at).end()
            if self.at < len(self.text):
                return self.text[self.at]
            if not self._read_on():
                return ""

    def take(self, characters):
        """The next character that is no space, which is one of those wanted."""
        character = self.next_character()
        if not character or character not in characters:
            raise ValueError(f"{characters!r} was expected" if character else CUT_SHORT)
        self.at += 1
        return character

    def value(self):
        """The next value."""
        return self.value_and_text()[0]

    def value_and_text(self):
        """The next value, and as it is written."""
        if not self.next_character():
            raise ValueError(CUT_SHORT)
        while True:
            try:
                value, end = plain_json.scan(self.text, self.at)
            except json.JSONDecodeError:
                if not self._read_on():
                    raise
                continue
            # A number may go on in the next piece, behind "e+" too.
            if end + 2 < len(self.text) or not self._read_on():
                break
        written, self.at = self.text[self.at : end], end
        return value, written

    def members(self):
        """The name of each member of an object; its value is to be read before the next."""
        yield from self._in_turn("{", "}", self._name)

    def items(self):
        """(value, as it is written) of each item of a list."""
        yield from self._in_turn("[", "]", self.value_and_text)

    def end(self):
        """Nothing follows."""
        if self.next_character():
            raise ValueError("something follows its end")

    def _name(self):
        name = self.value()
        if not isinstance(name, str):
            raise ValueError("a member has no name")
        self.take(":")
        return name

    def _in_turn(self, opens, closes, read_item):
        self.take(opens)
        if self.next_character() == closes:
            self.take(closes)
            return
        while True:
            yield read_item()
            if self.take("," + closes) == closes:
                return

    def _read_on(self):
        """Read a piece, a larger one in what is long, so that it is not tried too often; False at
        the end.
        """
        if self.is_through:
            return False
        rest = self.text[self.at :]
        if len(rest) > MOST_VALUE_CHARACTERS:
            raise ValueError("one value is longer than any")
        piece = self.file.read(max(PIECE_BYTES, len(rest)))
        self.is_through = not piece
        self.text, self.at = rest + self.decoder.decode(piece, final=self.is_through), 0
        return True
