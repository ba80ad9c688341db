"""A printed box is folded here, panel by panel in space, and measured as one would with a rule."""

import itertools
from math import atan2, degrees
from unittest import TestCase

import numpy as np

from pinhole import net
from pinhole.projection import FlatBack

BOXES = tuple(
    itertools.product(
        (40.0, 90.0, 150.0), ((125.0, 99.6), (175.8, 125.0), (58.0, 88.0)), (0.5, 1.0, 2.5)
    )
)


def folded(piece):
    """{panel: function that takes places of the flat net, shape (n, 2), to where they are folded,
    shape (n, 3)}: right angles toward the inside, which is up from the floor.
    """
    places = {}
    for panel in piece.panels:
        if not panel.parent:
            places[panel.name] = lambda at: np.column_stack([at, np.zeros(len(at))])
            continue
        places[panel.name] = _about(panel, places[panel.parent])
    return places


def _about(panel, parent):
    """Rodrigues' rotation by a right angle about the hinge, where the parent has carried it."""
    start, end = parent(np.array(panel.hinge))
    axis = (end - start) / np.linalg.norm(end - start)
    middle = parent(np.mean(panel.outline, axis=0)[None])[0]
    # Toward the side of the parent on which everything is folded: up for a wall, inward for a flap.
    up = parent(np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]]))
    normal = np.cross(up[1] - up[0], up[2] - up[0])
    turns = [_turned(middle[None], start, sign * axis)[0] for sign in (1, -1)]
    sign = 1 if (turns[0] - start) @ normal > (turns[1] - start) @ normal else -1
    return lambda at: _turned(parent(np.asarray(at, float)), start, sign * axis)


def _turned(points, origin, axis):
    off = points - origin
    return origin + np.cross(axis, off) + axis * (off @ axis)[:, None]


class Folded(TestCase):
    def pieces(self):
        for depth, sheet, card in BOXES:
            visible = sheet[0] - 6, sheet[1] - 6
            yield depth, sheet, visible, card, *net.box(depth, sheet, visible, card)

    def test_walls_meet_and_hold_the_sheet_at_its_depth(self):
        for depth, sheet, _, card, body, _ in self.pieces():
            at = folded(body)
            outline = {panel.name: np.array(panel.outline) for panel in body.panels}
            walls = {side: at[side](outline[side]) for side in ("left", "right", "top", "bottom")}
            # Every wall stands upright, and its rim is as far from the paper as the hole is to be:
            # the floor's upper face is half a card above its middle.
            for corners in walls.values():
                self.assertAlmostEqual(corners[:, 2].max() - card / 2, depth)
                self.assertAlmostEqual(corners[:, 2].min(), 0.0)
            inner = [
                walls["right"][:, 0].min() - walls["left"][:, 0].max() - card,
                walls["top"][:, 1].min() - walls["bottom"][:, 1].max() - card,
            ]
            for room, side in zip(inner, sheet, strict=True):
                self.assertAlmostEqual(room - side, net.SHEET_ROOM_MM)
            # A flap lies along the wall beside it.
            for panel in body.panels:
                if "flap" in panel.name:
                    flap = at[panel.name](outline[panel.name])
                    beside = min(np.abs(flap[:, 1] - y).max() for y in outline["floor"][:, 1])
                    self.assertAlmostEqual(beside, 0.0)

    def test_the_lid_slides_over_the_body_and_its_hole_is_on_the_axis(self):
        for depth, _, _, card, body, lid in self.pieces():
            outer = np.ptp(body.panels[0].outline, axis=0) + card
            inner = np.ptp(lid.panels[0].outline, axis=0) - card
            np.testing.assert_allclose(inner - outer, net.SLIDE_MM)
            self.assertEqual(lid.window, (0.0, 0.0))
            top = next(panel for panel in lid.panels if panel.name == "top")
            skirt = np.ptp(top.outline, axis=0)[1]
            self.assertGreaterEqual(skirt, min(depth, 15))
            self.assertLessEqual(skirt, depth + card)

    def test_over_the_dots_one_sights_along_the_edges_of_the_picture(self):
        """As the field of such a back is reckoned: atan of half the picture over the depth."""
        for depth, sheet, visible, _, body, lid in self.pieces():
            across, up, _ = FlatBack(depth, *visible).field_deg()
            back, front = dict(body.dots), dict(lid.dots)
            half_across = degrees(atan2(back["top 2"][0] - front["top"][0], depth))
            half_up = degrees(atan2(back["left 2"][1] - front["left"][1], depth))
            self.assertAlmostEqual(2 * half_across, across)
            self.assertAlmostEqual(half_up, up)
            # Both lie where the planes of paper and hole are, and on the card.
            self.assertLess(back["top 2"][0], sheet[0] / 2)

    def test_nothing_of_a_net_lies_on_anything_else_and_every_edge_is_cut_or_folded(self):
        for _, _, _, _, *pieces in self.pieces():
            for piece in pieces:
                middles = [np.mean(panel.outline, axis=0) for panel in piece.panels]
                for panel in piece.panels:
                    low, high = np.min(panel.outline, axis=0), np.max(panel.outline, axis=0)
                    inside = [(low < m).all() and (m < high).all() for m in middles]
                    self.assertEqual(sum(inside), 1, panel.name)
                self.assertEqual(len(piece.folds), len(piece.panels) - 1)
                edges = sum(len(panel.outline) for panel in piece.panels)
                # A fold is an edge of two panels.
                self.assertEqual(len(piece.cuts), edges - 2 * len(piece.folds))

    def test_what_cannot_be_folded_is_refused(self):
        for depth, card in ((10, 1), (500, 1), (90, 0.1), (90, 9)):
            with self.assertRaises(ValueError):
                net.box(depth, (125, 100), (119, 94), card)
