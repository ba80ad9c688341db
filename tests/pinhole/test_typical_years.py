"""The light of a clear sky against two typical years of measured illuminance, hour by hour."""

from pathlib import Path
from unittest import TestCase

import numpy as np
import pandas as pd
import pvlib

from pinhole import light, sun

FOLDER = Path(pvlib.__file__).parent / "data"
# Both keep illuminance in hundreds of lux (their manuals: TMY2, TMY3); an hour is told at its end
# by one, at its beginning by the other.
HUNDRED_LUX, HALF_HOUR_S = 100.0, 1800
# Clear: global and direct sun are so much of what a clear sky gives (Ineichen's).
CLEAR_GLOBAL, CLEAR_DIRECT = 0.9, 0.85
HALF_A_STOP, OF_HOURS, LOWEST_SUN_DEG = 0.5, 0.9, 5.0


def years():
    """(name, place, moments, lux, watts of all light, watts of direct sun) of each."""
    table, place = pvlib.iotools.read_tmy3(FOLDER / "723170TYA.CSV", coerce_year=1990)
    columns = ("GH illum (lx)", "ghi", "dni")
    yield "TMY3", place, _middles(table, -HALF_HOUR_S), *(table[c].to_numpy() for c in columns)
    table, place = pvlib.iotools.read_tmy2(FOLDER / "12839.tm2")
    columns = ("GHillum", "GHI", "DNI")
    yield "TMY2", place, _middles(table, HALF_HOUR_S), *(table[c].to_numpy() for c in columns)


def _middles(table, seconds):
    utc = table.index.tz_convert("UTC").tz_localize(None).to_numpy().astype("datetime64[s]")
    return utc + np.timedelta64(seconds, "s")


class TypicalYears(TestCase):
    def test_nine_clear_hours_of_ten_are_within_half_a_stop(self):
        for name, place, utc, hundreds, glow, beam in years():
            where = place["latitude"], place["longitude"], place["altitude"]
            _, altitude = sun.position(utc, *where)
            site = pvlib.location.Location(where[0], where[1], "UTC", where[2])
            moments = pd.DatetimeIndex(utc).tz_localize("UTC")
            sky = site.get_clearsky(moments, model="ineichen")
            is_clear = glow > CLEAR_GLOBAL * sky["ghi"].to_numpy()
            is_clear &= beam > CLEAR_DIRECT * sky["dni"].to_numpy()
            is_clear &= altitude > LOWEST_SUN_DEG
            measured = light.ev100_from_lux(HUNDRED_LUX * hundreds[is_clear])
            told = light.subject_ev100(altitude[is_clear], 0.0, upright=False)
            near = np.abs(told - measured) < HALF_A_STOP
            for low, high in ((5, 10), (10, 20), (20, 40), (40, 90)):
                of_height = (altitude[is_clear] >= low) & (altitude[is_clear] < high)
                with self.subTest(name, low=low, hours=int(of_height.sum())):
                    self.assertGreater(of_height.sum(), 90)
                    self.assertGreater(near[of_height].mean(), OF_HOURS)
