"""A can as one stands before it: where it looks, how it leans, when it is fetched."""

from dataclasses import dataclass
from datetime import date

from chimney.parts.scales import number
from chimney.places import craft as places
from chimney.solar import craft
from chimney.solar.figures import compass, leaning
from pinhole.solargraph import pointing

COMPASS_QUARTERS = (
    "north",
    "north-east",
    "east",
    "south-east",
    "south",
    "south-west",
    "west",
    "north-west",
)
LEVEL_DEG = 0.5


@dataclass(frozen=True)
class Ladder:
    """Numbers to read off at the spot; prediction: of how it shall stand."""

    prediction: craft.Prediction

    @property
    def looks(self):
        """The quarter of the sky that it looks to."""
        return COMPASS_QUARTERS[round(self.aim.azimuth_deg / 45) % 8]

    @property
    def aim(self):
        return self.prediction.pointing

    @property
    def compass_deg(self):
        """Reading of a compass for its direction, there and on its first day."""
        off_deg = craft.declination_deg(self.prediction.place, self.prediction.first_day)
        return float(pointing.compass_deg(self.aim.azimuth_deg, off_deg))

    @property
    def is_level(self):
        return abs(self.aim.tilt_deg) < LEVEL_DEG

    @property
    def wall_deg(self):
        return self.prediction.wall_deg

    @property
    def _of_wedge_deg(self):
        return self.aim.tilt_deg - self.wall_deg

    @property
    def leans(self):
        return "back" if self.aim.tilt_deg > 0 else "forward"

    @property
    def raised(self):
        """The end of it that the wedge lifts."""
        return "front" if self._of_wedge_deg > 0 else "back"

    @property
    def lean_deg(self):
        return abs(self.aim.tilt_deg)

    @property
    def wedge_mm(self):
        """Height of the wedge, None where it stands level or no wedge holds it."""
        wedge_mm = craft.wedge_mm(self.prediction, self.aim.tilt_deg)
        return None if abs(self._of_wedge_deg) < LEVEL_DEG else wedge_mm

    @property
    def last_day(self):
        return self.prediction.track.days[-1].astype(date)

    @property
    def days(self):
        return (self.last_day - self.prediction.first_day).days

    @property
    def noons(self):
        """[(words, height of the sun at noon)] on the first and the last day."""
        rows = []
        for day in (self.prediction.first_day, self.last_day):
            altitude = places.sun_day(self.prediction.place, day).noon_altitude_deg
            rows.append((f"{day.day} {day:%b}, {number(round(altitude))}°", altitude))
        return rows

    @property
    def compass(self):
        across, _, _ = self.prediction.back.field_deg()
        return compass(self.aim.azimuth_deg, across)

    @property
    def leaning(self):
        return leaning(self.aim.tilt_deg, self.wedge_mm, self.noons)
