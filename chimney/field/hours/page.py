"""Today's openings under some skies, as bars and in words."""

from dataclasses import dataclass
from functools import cached_property

from chimney.field.hours import figures
from chimney.field.hours.craft import opening as opens
from chimney.field.hours.craft.outlook import outlook
from chimney.field.hours.queries import specify_with
from chimney.parts import clock
from chimney.places.craft import local
from pinhole import durations, light


@dataclass(frozen=True)
class Today:
    """Today's openings; many: [(light.Sky, Hours)], the one that was chosen first."""

    now: object
    many: list

    @property
    def minute(self):
        return 60.0 * self.now.hour + self.now.minute

    @property
    def headline(self):
        """Words for the hours of today."""
        ends = self.many[0][1].sensible(self.now.date())
        if ends is None:
            return "Today no opening gets full within an hour"
        first, last = (opens.say_minute(minute) for minute in ends)
        return f"Today: first opening {first}, last {last}"

    @cached_property
    def ends(self):
        return figures.ends_of([hours for _, hours in self.many])

    @property
    def scale(self):
        return figures.scale(self.ends)

    @property
    def rows(self):
        """[(sky, bar, words of first and last, words of now)]."""
        for sky, hours in self.many:
            between = hours.sensible(self.now.date())
            span = "never within an hour"
            if between:
                span = " to ".join(opens.say_minute(minute) for minute in between)
            day, names = self.now.date(), {"name": f"Today, {sky.words}", "label": span}
            bar = figures.bar(hours, day, self.minute, self.ends, **names)
            now = hours.opening(self.now.date(), self.minute)
            yield sky, bar, span, say_opening(now.seconds, now.is_dark) or "dark"


def of_today(camera, paper, place, looks_deg, skies, ratings):
    """The Today of a camera and a paper at a place, under skies by their names; ratings:
    the lessons' Ratings.
    """
    now, many = local(clock.now(), place), []
    for name in skies:
        sky = light.SKY_BY_NAME[name]
        look = outlook(place, now.date(), 1, sky, looks_deg)
        hours = opens.hours(place, look, specify_with(camera, paper, name, ratings), paper)
        many.append((sky, hours))
    return Today(now, many)


def say_opening(seconds, is_dark):
    """A time in a table, or a word."""
    if is_dark:
        return ""
    return durations.say(durations.countable_s(seconds)) if seconds < float("inf") else "dark first"
