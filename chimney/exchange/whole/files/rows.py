"""The rows of a log, kind by kind: read once as a stream and laid on disc, so that no more than one
is held at a time.
"""

import shutil
from dataclasses import dataclass, field
from pathlib import Path

from django import forms

from chimney.exchange.whole.catalogue import FORMAT, LOG_VERSION, ROW_KINDS
from chimney.parts.json_stream import JsonStream

MOST_ROWS = 400_000


@dataclass(frozen=True)
class KindRows:
    """The rows of one kind in their order, read anew each time: path of their file; count."""

    path: Path
    count: int

    def __len__(self):
        return self.count

    def __iter__(self):
        with self.path.open("rb") as file:
            stream = JsonStream(file)
            for _ in range(self.count):
                yield stream.value()


@dataclass
class SpooledLog:
    """Content of a log: rows by kind, laid into a folder; answers; head: the other members."""

    folder: Path
    rows: dict = field(default_factory=dict)
    answers: list = field(default_factory=list)
    head: dict = field(default_factory=dict)
    count: int = 0

    def read(self, stream):
        """All of it. Raises ValueError for what is no JSON, ValidationError for what is no log."""
        self.away()
        self.folder.mkdir(mode=0o700, parents=True)
        if stream.next_character() == "[":
            raise _other()
        for name in stream.members():
            if name == "rows" and stream.next_character() == "{":
                for kind in stream.members():
                    self._spool(kind, stream)
            elif name == "answers" and stream.next_character() == "[":
                self.answers = [value for value, _ in self._counted(stream)]
            else:
                self.head[name] = stream.value()
        stream.end()
        self._check()
        return self

    def away(self):
        shutil.rmtree(self.folder, ignore_errors=True)

    def _spool(self, kind, stream):
        """The rows of a kind; what else stands in their place, or of no known kind, is none."""
        if kind not in ROW_KINDS or stream.next_character() != "[":
            stream.value()
            return
        path, before = self.folder / kind, self.count
        with path.open("w", encoding="utf-8") as file:
            for _, written in self._counted(stream):
                file.write(written)
                file.write("\n")
        self.rows[kind] = KindRows(path, self.count - before)

    def _counted(self, stream):
        for item in stream.items():
            self.count += 1
            if self.count > MOST_ROWS:
                raise forms.ValidationError(
                    f"That log has more than {MOST_ROWS:,} rows: that is more than a life of "
                    "sheets."
                )
            yield item

    def _check(self):
        if self.head.get("format") != FORMAT:
            raise _other()
        version = self.head.get("version")
        if version != LOG_VERSION:
            raise forms.ValidationError(
                f"That log is of version {str(version)[:20]}, and version {LOG_VERSION} is read "
                "here. Bring this Chimney up to date, or write the log anew with the other one."
            )
        if set(self.rows) != set(ROW_KINDS) or "rows" in self.head or "answers" in self.head:
            raise forms.ValidationError("Rows are missing in that log.")


def _other():
    return forms.ValidationError("That is JSON, but no log of Chimney.")
