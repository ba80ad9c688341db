"""Bounds of a picture of a pinhole that can be measured, with the words where it cannot."""

from __future__ import annotations

RAYS = 360
# Fewer pixels across than this measure the pixels and not the hole.
LEAST_ACROSS_PX = 9
# Least difference between hole and plate: in greys of 255, and in standard deviations of the grain.
LEAST_HOLE_CONTRAST = 25
LEAST_CONTRAST_SD = 5
# Least 4 pi A / P^2 and least short over long axis of anything that is taken for a hole.
LEAST_COMPACT = 0.55
LEAST_ROUND = 0.6
# Blobs are looked at from so many pixels on, so many of the largest; a picture of more than so many
# is grain.
LEAST_BLOB_PX, LOOKED_AT, MOST_BLOBS = 12, 12, 200_000
# Blobs are looked for at so many levels besides Otsu's.
LEVELS = 6
# Round spots (4 pi A / P^2; a square has 0.79) alone in an even plate come before all else: plates
# have corners, and letters neighbours.
LEAST_ROUND_SPOT, MOST_CROWDED = 0.86, 0.05
# A spot of so many pixels in something more than so many times as wide is the hole of that plate,
# not dust in a hole.
LEAST_IN_PLATE_PX, PLATE_WIDTHS = 9, 8
# A smaller spot of so many pixels beside the hole is told: it draws a picture of its own.
LEAST_TOLD_PX = 6
# A second blob of this share of the first one's area is a second hole, not dust.
SECOND_HOLE = 0.2
# An edge this share of the radius (and at least so many pixels) off the ellipse, over some degrees,
# is a burr.
BURR_SHARE, BURR_PX, BURR_DEG = 0.07, 1.5, 6
# An edge must fall within so many pixels, or this share of the radius, to be the edge of metal.
SOFT_PX, SOFT_SHARE = 3.0, 0.12
# More of the outline than this off its ellipse is no hole; nor is one whose light differs so much
# from ray to ray.
LEAST_ON_ELLIPSE, UNEVEN = 0.85, 0.4
# A picture of more pixels is searched in a reduced copy; around what is found there so many of its
# pixels are kept.
SEARCHED_PX, SURROUND_PX = 4_000_000, 12
# How exactly an edge is placed [px]: synthetic pictures give 0.02 to 0.04, real scans are given
# room.
EDGE_SD_PX = 0.06


class UnusableError(ValueError):
    """The picture cannot be measured; the message says why and what to do."""
