"""Drawing of a can: where the sun's track lies on its paper, and how much of it does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from pinhole.ranges import Array
from pinhole.solargraph.skyline import Skyline
from pinhole.solargraph.tracks import Track, track

if TYPE_CHECKING:
    from pinhole.projection.back import Back
    from pinhole.projection.pointing import Pointing


@dataclass(frozen=True)
class Trails:
    """A Track seen through a camera. counted, on_paper: per sample, (n, t); x_mm, y_mm of every
    sample above 0, nan elsewhere and behind the camera; noon_x_mm, noon_y_mm, noon_seen:
    above 0 and the skyline, noon_on_paper: of those, noon_over_top: whatever the skyline; per day,
    (n,).
    """

    track: Track
    counted: Array
    on_paper: Array
    x_mm: Array
    y_mm: Array
    noon_x_mm: Array
    noon_y_mm: Array
    noon_seen: Array
    noon_on_paper: Array
    noon_over_top: Array

    @property
    def day_share(self) -> Array:
        """Of each day, which share of its counted samples lies on the paper; nan without one."""
        counted = self.counted.sum(axis=1)
        with np.errstate(invalid="ignore", divide="ignore"):
            return np.where(counted > 0, self.on_paper.sum(axis=1) / counted, np.nan)


def trails(
    sun_track: Track,
    back: Back,
    pointing: Pointing,
    horizon: Sequence[tuple[float, float]] | Skyline | None = None,
    minutes: tuple[float, float] | None = None,
) -> Trails:
    """The Trails of a Track through a camera.

    sun_track: Track; back: a projection back; pointing: Pointing; horizon: a Skyline or its points;
    minutes: (from, to) of the day at the track's offset, if the camera is open only then, past
    midnight where it ends before it begins. Source:
    projection; the sun counts while its refracted centre stands above 0 and above the horizon; noon
    is the upper transit whatever the horizon.
    """
    skyline = horizon if isinstance(horizon, Skyline) else Skyline(tuple(horizon or ()))
    x, y, lands = back.place(pointing, sun_track.sky)
    counted = np.array(sun_track.up)
    counted[sun_track.up] = ~_hidden(sun_track, skyline)
    if minutes is not None:
        after, before = sun_track.minutes >= minutes[0], sun_track.minutes <= minutes[1]
        counted &= (after & before if minutes[0] <= minutes[1] else after | before)[None, :]
    whole_x, whole_y = np.full((2, *sun_track.up.shape), np.nan)
    on_paper = np.zeros(sun_track.up.shape, bool)
    whole_x[sun_track.up], whole_y[sun_track.up], on_paper[sun_track.up] = x, y, lands
    noon_x, noon_y, noon_lands = back.place(pointing, sun_track.noon_sky)
    noon_seen = sun_track.noons_seen(skyline)
    return Trails(
        sun_track,
        counted,
        on_paper & counted,
        whole_x,
        whole_y,
        noon_x,
        noon_y,
        noon_seen,
        noon_lands & noon_seen,
        over_top(back, noon_x, noon_y),
    )


def over_top(back: Back, x_mm: Array, y_mm: Array) -> Array:
    """True for landings within the paper's length but beyond its lower edge: the sun passed over
    the top.
    """
    half_across, half_high = back.half_mm
    with np.errstate(invalid="ignore"):
        return np.asarray((np.abs(x_mm) <= half_across) & (y_mm < -half_high))


def _hidden(sun_track: Track, skyline: Skyline) -> Array:
    """True for every sample above 0 that the skyline hides."""
    places = sun_track.azimuth_deg[sun_track.up], sun_track.altitude_deg[sun_track.up]
    bare = skyline.hides(*places)
    leafy = skyline.leafy(sun_track.days)
    if not leafy.any():
        return bare
    in_leaf = np.broadcast_to(leafy[:, None], sun_track.up.shape)[sun_track.up]
    return np.asarray(np.where(in_leaf, skyline.hides(*places, True), bare))


@dataclass(frozen=True)
class Survey:
    """Survey of a span: days in the span and with the sun on the paper; share of counted samples on
    it, nan without any; first and last date on it or None; days whose noon passes over the top;
    least and greatest y [mm] on it or nan.
    """

    days: int
    days_on_paper: int
    share_on_paper: float
    first_on_paper: date | None
    last_on_paper: date | None
    days_noon_over_top: int
    y_min_mm: float
    y_max_mm: float


def summed(drawn: Trails) -> Survey:
    """The Survey of Trails; y over the counted landings that lie on the paper."""
    on_days = np.flatnonzero(drawn.on_paper.any(axis=1))
    counted, landed = int(drawn.counted.sum()), int(drawn.on_paper.sum())
    y = drawn.y_mm[drawn.on_paper]
    dates = [drawn.track.days[n].astype(date) for n in on_days[[0, -1]]] if y.size else [None] * 2
    return Survey(
        days=len(drawn.track.days),
        days_on_paper=int(on_days.size),
        share_on_paper=landed / counted if counted else float("nan"),
        first_on_paper=dates[0],
        last_on_paper=dates[1],
        days_noon_over_top=int(drawn.noon_over_top.sum()),
        y_min_mm=float(y.min()) if y.size else float("nan"),
        y_max_mm=float(y.max()) if y.size else float("nan"),
    )


def summed_together(drawn: Sequence[Trails]) -> Survey:
    """The Survey of Trails of one can that stood otherwise from time to time: a tuple of them, each
    over days of its own, in their order.
    """
    parts = [summed(trails_of) for trails_of in drawn]
    counted = sum(int(trails_of.counted.sum()) for trails_of in drawn)
    landed = sum(int(trails_of.on_paper.sum()) for trails_of in drawn)
    first = [part.first_on_paper for part in parts if part.first_on_paper]
    last = [part.last_on_paper for part in parts if part.last_on_paper]
    y = np.concatenate([trails_of.y_mm[trails_of.on_paper] for trails_of in drawn])
    return Survey(
        days=sum(part.days for part in parts),
        days_on_paper=sum(part.days_on_paper for part in parts),
        share_on_paper=landed / counted if counted else float("nan"),
        first_on_paper=min(first, default=None),
        last_on_paper=max(last, default=None),
        days_noon_over_top=sum(part.days_noon_over_top for part in parts),
        y_min_mm=float(y.min()) if y.size else float("nan"),
        y_max_mm=float(y.max()) if y.size else float("nan"),
    )


def survey(
    latitude_deg: float,
    longitude_deg: float,
    back: Back,
    pointing: Pointing,
    first_day: date,
    last_day: date,
    *,
    utc_offset_h: float,
    step_min: float = 2,
    horizon: Sequence[tuple[float, float]] | Skyline | None = None,
) -> Survey:
    """The Survey of a can over a span; arguments, errors and source as track() and trails()."""
    sun_track = track(
        latitude_deg,
        longitude_deg,
        first_day,
        last_day,
        utc_offset_h=utc_offset_h,
        step_min=step_min,
    )
    return summed(trails(sun_track, back, pointing, horizon))


def spans(days: Array, flags: Array) -> list[tuple[date, date]]:
    """[(first, last)] of the runs of days for which the flag holds; days datetime64[D], both shape
    (n,).
    """
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(int)))
    return [
        (days[a].astype(date), days[b - 1].astype(date))
        for a, b in zip(edges[::2], edges[1::2], strict=True)
    ]
