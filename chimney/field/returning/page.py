"""The page of a light that comes back."""

from dataclasses import dataclass
from functools import cached_property
from urllib.parse import urlencode

from django.urls import reverse

from chimney.field.returning import craft
from chimney.field.returning.craft import Then
from chimney.parts.scales import number, size_of_stops


@dataclass(frozen=True)
class ReturnsPage:
    """then: a Then; every: whether all of its days are told; query: of the page itself."""

    then: Then
    every: bool
    query: str = ""

    @cached_property
    def comebacks(self):
        return craft.comebacks(self.then)

    @property
    def count(self):
        return len(self.comebacks)

    @property
    def nearest(self):
        """The Comeback at which the sun stands nearest, or None."""
        return min(self.comebacks, key=lambda row: row.off_deg, default=None)

    @property
    def rows(self):
        """[(Comeback, query of a plan for it)]."""
        rows = self.comebacks if self.every else craft.seasons(self.comebacks)
        return self._planned(rows)

    @property
    def halfway(self):
        """[(heading, [(Comeback, query of a plan)])] of days on which it comes half way."""
        headings = "The same direction, higher or lower", "The same height, elsewhere"
        tables = craft.halfway(self.then)
        return [(head, self._planned(rows)) for head, rows in zip(headings, tables, strict=True)]

    def _planned(self, rows):
        return [(row, self._plan(row)) for row in rows]

    def _plan(self, row):
        fields = self.then.fields | {"kind": "ev", "ev_iso": "100"}
        fields["ev"] = f"{self.then.ev100 - row.light_stops:.2f}"
        if self.then.looks_deg is not None:
            fields["azimuth_deg"] = f"{self.then.looks_deg:g}"
        return urlencode(fields)

    @property
    def calendar(self):
        """The address of its nearest day as a calendar file."""
        stamp = self.nearest.stamp
        if self.then.sheet:
            return reverse("field:returns_ics", args=[self.then.code, stamp])
        return f"{reverse('field:returns_of_ics', args=[stamp])}?{self.query}"

    @property
    def within_deg(self):
        return craft.WITHIN_DEG

    @property
    def tiles(self):
        """[(label, value)] of how the time at the nearest comes about."""
        then, row = self.then, self.nearest
        if row is None or then.given_s is None:
            return []
        verdict = "verdict"
        if then.verdict_stops:
            sense = "more" if then.verdict_stops > 0 else "less"
            verdict = f"verdict: {size_of_stops(then.verdict_stops)} {sense}"
        return [
            (verdict, f"× {number(2.0**then.verdict_stops)}"),
            ("light then", f"× {number(2.0**row.light_stops)}"),
        ]
