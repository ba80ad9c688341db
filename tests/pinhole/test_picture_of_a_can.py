"""What may come out of a can, as a picture: held to the geometry and to laws of light, never to its
own colours.
"""

from datetime import date
from unittest import TestCase

import numpy as np

from pinhole import solargraph
from pinhole.imaging import preview
from pinhole.projection import CanBack, FlatBack, Pointing
from pinhole.solargraph.skyline import Skyline

CAN = CanBack(66, 178, 120)
FLAT = FlatBack(80, 160, 140)
LEVEL = Skyline(((0, 0),))


def looked(back, aim, line=LEVEL, *, first=date(2026, 3, 1), last=date(2026, 3, 1)):
    track = solargraph.track(57.1, 19.6, first, last, utc_offset_h=1, step_min=4)
    return solargraph.trails(track, back, aim, line)


def drawn(look, back, aim, line=LEVEL, *, width_mm=0.7, px_per_mm=2.0, sun=True, water=False):
    """The picture as floats, all lines of one width."""
    return preview.render(
        look,
        back,
        aim,
        line,
        widths_mm=np.where(look.on_paper, width_mm, np.nan),
        px_per_mm=px_per_mm,
        shining=np.full(look.counted.shape, sun),
        water=water,
    ).astype(float)


class Picture(TestCase):
    def test_the_picture_is_the_right_way_round(self):
        seen = solargraph.track(
            57.1, 19.6, date(2026, 6, 1), date(2026, 6, 21), utc_offset_h=1, step_min=4
        )
        aim, line = Pointing(180, 20), Skyline(((90, 5), (270, 25)))
        look = solargraph.trails(seen, CAN, aim, line)
        # Only the mornings shine: in the finished positive the east lies at the left, the ground
        # below.
        morning = np.broadcast_to(seen.minutes < 700, look.counted.shape)
        widths = solargraph.lines(look, CAN, aim, 0.3).widths_mm
        picture = preview.render(
            look, CAN, aim, line, widths_mm=widths, shining=morning, px_per_mm=1.5, water=True
        ).astype(int)
        bright = (picture.sum(axis=2) > 600)[: picture.shape[0] // 3]
        half = picture.shape[1] // 2
        self.assertGreater(bright[:, :half].sum(), 20 * (bright[:, half:].sum() + 1))
        self.assertGreater(picture[0].mean(), 40)
        self.assertEqual(picture.shape, (180, 267, 3))

    def test_a_trail_is_bright_where_the_sun_lands_and_nowhere_else(self):
        seen = solargraph.track(
            57.1, 19.6, date(2026, 3, 1), date(2026, 3, 1), utc_offset_h=1, step_min=4
        )
        aim, line = Pointing(180, 20), Skyline(((0, 0),))
        look = solargraph.trails(seen, CAN, aim, line)
        scale = 2.0
        lit, dull = (
            preview.render(
                look,
                CAN,
                aim,
                line,
                widths_mm=np.where(look.on_paper, 0.7, np.nan),
                px_per_mm=scale,
                shining=np.full(look.counted.shape, sun),
            ).astype(int)
            for sun in (True, False)
        )
        bright = (lit - dull).sum(axis=2) > 40
        landed = look.on_paper[0]
        px = (look.x_mm[0, landed] + CAN.half_mm[0]) * scale
        py = (look.y_mm[0, landed] + CAN.half_mm[1]) * scale
        self.assertGreater(bright[py.astype(int), px.astype(int)].mean(), 0.95)
        rows, columns = np.nonzero(bright)
        away = np.hypot(rows[:, None] + 0.5 - py, columns[:, None] + 0.5 - px).min(axis=1)
        # Half a line of 0.7 mm, soft at its edge, and half of the 4 minutes between two samples.
        self.assertLess(away.max(), 4.0)

    def test_a_line_is_as_wide_as_it_is_said_to_be(self):
        aim = Pointing(180, 20)
        look = looked(FLAT, aim)
        dull = drawn(look, FLAT, aim, px_per_mm=4, sun=False)
        noon = FLAT.land(aim, *self.noon(look))
        column = int((float(noon.x_mm) + FLAT.half_mm[0]) * 4)
        spans = []
        for width_mm in (1.0, 2.0, 4.0):
            light = drawn(look, FLAT, aim, width_mm=width_mm, px_per_mm=4) - dull
            across = light.sum(axis=2)[:, column]
            spans.append(np.sum(across > across.max() / 2) / 4)
            # The sun crosses the meridian level, so a column cuts the line square.
            self.assertAlmostEqual(spans[-1] / width_mm, 1, delta=0.45)
        self.assertGreater(spans[1], 1.4 * spans[0])
        self.assertGreater(spans[2], 1.4 * spans[1])

    def noon(self, look):
        slot = int(np.argmax(look.track.altitude_deg[0]))
        return look.track.azimuth_deg[0, slot], look.track.altitude_deg[0, slot]

    def test_light_only_ever_adds_and_never_past_white(self):
        aim = Pointing(180, 20)
        dull = drawn(looked(CAN, aim), CAN, aim, sun=False)
        before = dull
        for last in (date(2026, 3, 1), date(2026, 3, 8), date(2026, 4, 20)):
            more = drawn(looked(CAN, aim, last=last), CAN, aim)
            self.assertGreaterEqual((more - before).min(), -1)
            self.assertGreater((more - before).max(), 20)
            before = more
        self.assertLessEqual(before.max(), 255)

    def test_the_ground_lies_below_the_skyline_and_the_sky_darkens_upward(self):
        for back, aim in (
            (FLAT, Pointing(180, 20)),
            (CAN, Pointing(90, 0)),
            (FLAT, Pointing(0, -8)),
        ):
            look = looked(back, aim)
            picture = drawn(look, back, aim, sun=False)
            wide = picture.shape[1]
            # Ground is brown, sky is grey to blue.
            ground = picture[:, :, 0] > 1.15 * picture[:, :, 2]
            column = ground[:, wide // 2]
            # On the axis the horizon lies where a ray at its height lands.
            line = back.land(aim, aim.azimuth_deg, 0.0)
            row = (float(line.y_mm) + back.half_mm[1]) * 2
            self.assertAlmostEqual(int(np.argmax(column)), row, delta=1)
            self.assertTrue(column[int(row) + 2 :].all())
            # Redder and brighter toward the horizon.
            sky = picture[: int(row) - 2, wide // 2, 0]
            self.assertGreaterEqual(np.diff(sky[int(0.4 * len(sky)) :]).min(), -1)
            self.assertGreater(sky[-1], sky[0])

    def test_a_flat_picture_is_darkest_in_its_corners_alike(self):
        aim = Pointing(180, 89)
        picture = drawn(looked(FLAT, aim), FLAT, aim, sun=False)
        corners = picture[[0, 0, -1, -1], [0, -1, 0, -1]].sum(axis=1)
        self.assertLess(np.ptp(corners), 0.1 * corners.mean())
        self.assertLess(corners.max(), 0.75 * picture[140, 160].sum())

    def test_water_mirrors_the_sun_as_far_below_the_horizon_and_weaker_the_higher_it_stands(self):
        aim = Pointing(180, 0)
        look = looked(FLAT, aim, first=date(2026, 1, 10), last=date(2026, 1, 10))
        dry = drawn(look, FLAT, aim)
        wet = drawn(look, FLAT, aim, water=True)
        added = (wet - dry).sum(axis=2)
        # The upper half is sky: water changes nothing there.
        middle = dry.shape[0] // 2
        self.assertEqual(np.abs(added[: middle - 1]).max(), 0)
        rows, columns = np.nonzero(added > 30)
        self.assertGreater(rows.min(), middle - 2)
        dull = drawn(look, FLAT, aim, sun=False)
        up, at = np.nonzero((dry - dull).sum(axis=2) > 30)
        # Level camera: the mirrored trail is the trail upside down.
        both = set(at) & set(columns)
        self.assertGreater(len(both), 60)
        for column in sorted(both)[5:-5]:
            above = middle - up[at == column].mean()
            below = rows[columns == column].mean() - middle
            self.assertAlmostEqual(above, below, delta=1.5)
        share = [
            added[:, column].max() / (dry - dull).sum(axis=2)[:, column].max()
            for column in sorted(both)
        ]
        self.assertLess(max(share), 1)
        # Water mirrors a low sun better (Fresnel): at both ends of the day more than at noon.
        noon = np.mean(share[len(share) // 2 - 5 : len(share) // 2 + 5])
        self.assertGreater(min(np.mean(share[5:15]), np.mean(share[-15:-5])), 1.2 * noon)
