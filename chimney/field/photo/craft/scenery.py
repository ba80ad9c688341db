"""Light of a photo, the pinhole's field in it, and the sheet foreseen."""

from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np

from chimney.parts import pictures
from pinhole import exposure, optics, scene
from pinhole.projection import Pointing
from pinhole.tones import ToneCurve

# A phone's main lens, where a photo says nothing of its own.
USUAL_EQUIVALENT_MM = 26.0
# Roll of a camera that stands on its side.
UPRIGHT_DEG = 90.0
# A print on the screen, so wide at most [px]; histogram bars a stop.
PRINT_PX, BARS_A_STOP = 340, 3
# The pinhole's field is looked at every so many pixels of a photo for its spots.
LOOK_PX = 8
KEPT_LIGHTS_OF_PHOTOS = 4


@lru_cache(maxsize=KEPT_LIGHTS_OF_PHOTOS)
def _codes(jpeg):
    """Codes of a small JPEG, (h, w, 3)."""
    vips = pictures.load()
    image = vips.Image.new_from_buffer(jpeg, "").colourspace("srgb")
    return image.numpy()[..., :3]


@lru_cache(maxsize=2 * KEPT_LIGHTS_OF_PHOTOS)
def _light(jpeg, set_ev100, sees):
    """Exposure values of each pixel as the eye or a paper sees them, (h, w)."""
    # f/1 for as many seconds as that exposure value has at ISO 100.
    seconds = 2.0**-set_ev100
    light = scene.ev100(_codes(jpeg), f_number=1.0, seconds=seconds, iso=100, sees=sees)
    return light.astype(np.float32)


@lru_cache(maxsize=KEPT_LIGHTS_OF_PHOTOS)
def _proposed(jpeg, set_ev100, lens, back, pointing, stand):
    """Spots that are proposed for what the pinhole sees of a photo."""
    eye = _light(jpeg, set_ev100, "eye")
    high, wide = eye.shape
    down, across = np.mgrid[0:high:LOOK_PX, 0:wide:LOOK_PX] + LOOK_PX / 2
    azimuth, altitude = stand.in_pinhole(*lens.direction(across, down))
    in_field = np.asarray(back.land(pointing, azimuth, altitude).on_paper)
    inside = in_field.repeat(LOOK_PX, axis=0).repeat(LOOK_PX, axis=1)[:high, :wide]
    return scene.proposed(eye, inside)


# Of a photo whose dots are dragged the frame stays where it is.
_seen_at = lru_cache(maxsize=KEPT_LIGHTS_OF_PHOTOS)(scene.seen_at)


@dataclass(frozen=True)
class Scenery:
    """A photo as it is read. photo: a ScenePhoto; camera, paper; spots: places, or none for those
    that are proposed; pointing: of the pinhole against it; equivalent_mm: of its lens; curve: of
    its paper.
    """

    photo: object
    camera: object
    paper: object
    places: tuple
    pointing: Pointing
    equivalent_mm: float
    curve: ToneCurve
    # A second ScenePhoto, and how far it looks to the right of the first [degrees].
    beside: tuple = (None, 0.0)
    stand: scene.Standpoint = scene.SAME_STAND
    # (azimuth, altitude) of the sun against where the photo looks, None where it is not known.
    sun: tuple | None = None

    @property
    def is_broken(self):
        """True if a picture of it cannot be read, or is none of its size."""
        return any(is_broken(photo) for photo in (self.photo, self.beside[0]) if photo)

    @cached_property
    def eye(self):
        """Exposure values for the eye; over that of its exposure where it says none."""
        return _light(bytes(self.photo.jpeg), self.photo.set_ev100 or 0.0, "eye")

    @cached_property
    def seen_by_paper(self):
        """Exposure values as its paper sees them."""
        return _light(bytes(self.photo.jpeg), self.photo.set_ev100 or 0.0, self.paper.sees)

    @cached_property
    def lens(self):
        return scene.lens_of(self.photo.wide_px, self.photo.high_px, self.equivalent_mm)

    @property
    def back(self):
        return self.camera.geometry

    @cached_property
    def outline(self):
        """(x, y) of the paper's edge in the photo [px]."""
        return scene.outline_px(self.lens, self.back, self.pointing, stand=self.stand)

    @property
    def aim_px(self):
        """(x, y) of where the pinhole points in the photo [px], nan behind it."""
        axis = self.pointing.azimuth_deg, self.pointing.tilt_deg
        return self.lens.place(*self.stand.in_photo(*axis))

    def aimed(self, x_px, y_px):
        """(turn, tilt) [degrees] of a pinhole that points there in the photo."""
        return self.stand.in_pinhole(*self.lens.direction(x_px, y_px))

    @cached_property
    def shifted_deg(self):
        """(right, up) by which the photo has what the pinhole points at elsewhere [degrees]."""
        axis = self.pointing.azimuth_deg, self.pointing.tilt_deg
        return tuple(
            float(there - here)
            for there, here in zip(self.stand.in_photo(*axis), axis, strict=True)
        )

    @cached_property
    def spots(self):
        """(shadow, middle, highlight), each a Spot."""
        if self.places:
            return tuple(scene.spot(self.eye, x, y) for x, y in self.places)
        light = bytes(self.photo.jpeg), self.photo.set_ev100 or 0.0
        return _proposed(*light, self.lens, self.back, self.pointing, self.stand)

    @property
    def middle_ev100(self):
        return self.spots[1].ev100

    @cached_property
    def print_px(self):
        """(wide, high) of the print."""
        half_across, half_high = self.back.half_mm
        across, high = (half_high, half_across) if self._lies else (half_across, half_high)
        return PRINT_PX, max(8, round(PRINT_PX * high / across))

    @property
    def _lies(self):
        """True if the camera stands on its side, so that its paper's width goes up."""
        return abs(self.pointing.roll_deg) == UPRIGHT_DEG

    @cached_property
    def laid(self):
        """(exposure values for the eye, as the paper sees them, fall-off, shares of the photo from
        its top and from its left) of the print, upright, (h, w) each.
        """
        wide, high = self.print_px[::-1] if self._lies else self.print_px
        x, y, fall_off = _seen_at(self.lens, self.back, self.pointing, wide, high, stand=self.stand)
        views = (scene.laid(self.eye, x, y), scene.laid(self.seen_by_paper, x, y))
        layers = [*self._widened(views, wide, high), fall_off]
        layers += [y / self.photo.high_px, x / self.photo.wide_px]
        return tuple(np.rot90(layer, -1) if self._lies else layer for layer in layers)

    def _widened(self, views, wide, high):
        """Exposure values of the eye and of the paper, out of the second photo where the first does
        not reach.
        """
        photo, turn_deg = self.beside
        if photo is None or self.photo.set_ev100 is None:
            return views
        lens = scene.lens_of(
            photo.wide_px, photo.high_px, photo.equivalent_mm or self.equivalent_mm
        )
        aim = replace(self.pointing, azimuth_deg=self.pointing.azimuth_deg - turn_deg)
        stand = self.stand.turned(turn_deg)
        x, y, _ = _seen_at(lens, self.back, aim, wide, high, stand=stand)
        lights = (
            _light(bytes(photo.jpeg), photo.set_ev100, sees) for sees in ("eye", self.paper.sees)
        )
        others = (scene.laid(light, x, y) for light in lights)
        return tuple(
            np.where(np.isnan(view), other, view) for view, other in zip(views, others, strict=True)
        )

    def foreseen(self, stops=0.0, moving=None):
        """The Foreseen of the sheet with so many stops more than planned; moving: a Moving, or None
        where all stands still.
        """
        _, paper_ev, fall_off, down, across = self.laid
        half_across = self.back.half_mm[1] if self._lies else self.back.half_mm[0]
        blur = optics.blur_mm(self.camera.focal_mm, self.camera.diameter_mm)
        # A disc spreads by a quarter of its width.
        blur_px = blur / 4 * self.print_px[0] / (2 * half_across)
        return scene.foresee(
            *(paper_ev, self.middle_ev100, self.curve),
            medium=self.paper.kind,
            stops=stops,
            blur_px=blur_px,
            fall_off=fall_off,
            moving=moving and moving.washed(down),
            passing=moving and moving.passing(across, down, stops),
            sun=self.sun_px,
        )

    @cached_property
    def sun_px(self):
        """(across, down) of the sun in the print, None where it does not stand in it."""
        if self.sun is None or self.sun[1] <= 0:
            return None
        landed = self.back.land(self.pointing, *self.sun)
        if not landed.on_paper:
            return None
        (half_across, half_high), (wide, high) = self.back.half_mm, self.print_px
        # A print is mirrored against the paper, which shows the scene on its head.
        across = (landed.x_mm / half_across + 1) / 2
        down = (landed.y_mm / half_high + 1) / 2
        if self._lies:
            across, down = 1 - down, across
        return across * (wide - 1), down * (high - 1)

    @cached_property
    def black_reds(self):
        """Share of the print that is red and comes out black."""
        eye, paper_ev, *_ = self.laid
        return scene.black_reds(eye, paper_ev)

    @cached_property
    def blindness_stops(self):
        """Stops by which the paper sees the shadow spot darker than the eye."""
        spot = self.spots[0]
        return spot.ev100 - scene.spot(self.seen_by_paper, spot.x, spot.y).ev100

    @cached_property
    def corner_stops(self):
        """Stops that the corners get less."""
        return float(np.nanmax(self.laid[2]))

    @cached_property
    def histogram(self):
        """(lowest EV, counts a bar as shares of the largest) of what the pinhole sees."""
        evs = self.laid[0][np.isfinite(self.laid[0])]
        if not evs.size:
            return 0.0, np.zeros(1)
        low, high = np.floor(np.quantile(evs, 0.002)), np.ceil(np.quantile(evs, 0.999))
        bars = max(1, int((high - low) * BARS_A_STOP))
        counts, _ = np.histogram(evs, bars, (low, max(high, low + 1)))
        return float(low), counts / max(1, counts.max())


def is_broken(photo):
    """True if the picture of a ScenePhoto cannot be read, or is none of its size."""
    size = photo.high_px, photo.wide_px
    try:
        return _codes(bytes(photo.jpeg)).shape[:2] != size or min(size) < LOOK_PX
    except (pictures.load().Error, ValueError):
        return True


@lru_cache(maxsize=KEPT_LIGHTS_OF_PHOTOS)
def _turn(jpegs, lenses):
    greys = [np.ascontiguousarray(_codes(jpeg).mean(axis=2).astype(np.uint8)) for jpeg in jpegs]
    return scene.turn_between(*greys, *lenses)


def turn_between(photo, second, equivalent_mm):
    """Degrees by which a second ScenePhoto looks further right, by what both show; None where they
    share too little. equivalent_mm: of the first's lens, and of the second's if it says none.
    """
    if is_broken(photo) or is_broken(second):
        return None
    lenses = (
        scene.lens_of(one.wide_px, one.high_px, lens_mm)
        for one, lens_mm in (
            (photo, equivalent_mm),
            (second, second.equivalent_mm or equivalent_mm),
        )
    )
    turn = _turn((bytes(photo.jpeg), bytes(second.jpeg)), tuple(lenses))
    return None if np.isnan(turn) else round(turn, 1)


def aimed(turn_deg, tilt_deg, *, upright):
    """The Pointing of a pinhole against a photo; None is straight ahead."""
    return Pointing(turn_deg or 0.0, tilt_deg or 0.0, UPRIGHT_DEG if upright else 0.0)


def reading(scenery, phone, is_night):
    """The Reading of the middle spot, put right by what is known of its Phone."""
    sd = max(phone.sd_stops, scene.NIGHT_SD_STOPS) if is_night else phone.sd_stops
    # As the plan has it typed: both say one time.
    ev = round(scenery.middle_ev100 + phone.stops, 2)
    return exposure.read_ev(ev, 100, f"EV {ev:.1f} by your photo", sd_stops=sd)
