"""By how much one photo looks further right than another, told by what both show."""

from __future__ import annotations

import cv2
import numpy as np

from pinhole.ranges import Array
from pinhole.scene.framing import PhotoLens

# Corners that are looked for in each, how near their shifts have to lie [degrees], and how many of
# them have to agree (common practice).
CORNERS, AGREE_DEG, LEAST_AGREEING = 1200, 0.7, 25


def turn_between(first: Array, second: Array, lens: PhotoLens, second_lens: PhotoLens) -> float:
    """Degrees by which the second photo looks further right than the first; nan where they share
    too little.

    first, second: codes in grey, (h, w) of 8 bits each; lens, second_lens: PhotoLens of each.
    Source: matched corners (ORB, Rublee et al. 2011); the shift that most of them agree on.
    """
    finder = cv2.ORB.create(CORNERS)
    corners, marks = zip(
        *(finder.detectAndCompute(codes, None) for codes in (first, second)), strict=True
    )
    if any(mark is None for mark in marks):
        return float("nan")
    pairs = cv2.BFMatcher(cv2.NORM_HAMMING, crossCheck=True).match(*marks)
    places = [
        np.array([corners[0][pair.queryIdx].pt for pair in pairs]).reshape(-1, 2),
        np.array([corners[1][pair.trainIdx].pt for pair in pairs]).reshape(-1, 2),
    ]
    angles = [
        np.array(each.direction(*place.T))
        for each, place in zip((lens, second_lens), places, strict=True)
    ]
    shifts = angles[0] - angles[1]
    if not shifts.size:
        return float("nan")
    agree = (np.abs(shifts[:, :, None] - shifts[:, None]) < AGREE_DEG).all(axis=0)
    best = agree[int(agree.sum(axis=1).argmax())]
    return float(np.median(shifts[0, best])) if best.sum() >= LEAST_AGREEING else float("nan")
