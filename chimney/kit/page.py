"""Results of a camera's measures: drawings and facts, for the shelf and while they are being
typed.
"""

from copy import copy
from dataclasses import dataclass, replace
from math import log2

import numpy as np

from chimney.kit import figures
from chimney.kit.forms.cameras import CameraForm
from chimney.parts import drag, svg
from chimney.parts.scales import number, size_of_stops
from chimney.parts.svg import Drawing
from pinhole import optics

# Meters end at one of these f-numbers (common practice).
METER_ENDS = (128, 90, 64, 45, 32, 22)
# A hole measured a tenth too small or too large.
TENTH = 1.1


@dataclass(frozen=True)
class Study:
    """camera: kept or not; drawings and sentences computed from it; live: of an answer that takes
    its places on the page; layout: where the camera lies in its drawing.
    """

    camera: object
    layout: figures.Layout
    live: bool
    above: Drawing
    side: Drawing
    fall_off: Drawing
    blur: Drawing | None
    rules: list
    factors: list
    tenth: str
    cut_off: str
    # Whether its hole is the one that suits its depth, because nobody said another.
    is_proposed: bool = False

    @property
    def grips(self):
        """Handles in the camera from above."""
        grips = figures.to_section(self.camera, self.layout)
        return svg.handles(self.above, "camera", grips, live=self.live, of="-above")

    @property
    def hole_grip(self):
        """Handle on the blur of its hole."""
        grips = figures.to_blur(self.camera)
        return svg.handles(self.blur, "camera", grips, live=self.live, of="-blur")


@dataclass(frozen=True)
class Typed:
    """The form of a camera as it stands, its Study or None, and the fields that a drag changed."""

    form: CameraForm
    study: Study | None
    changed: tuple = ()

    @property
    def moved(self):
        """The fields that a drag changed, as they now stand."""
        return [self.form[name].as_widget(attrs={"hx-swap-oob": "true"}) for name in self.changed]


def read(params, thing):
    """The Typed camera of what came in; `thing`: the kept one it began as, or None. Where a handle
    was pulled, the fields follow it.
    """
    form, layout, changed = _form(params, thing), figures.Layout.read(params.get("frame")), {}
    pull = drag.read(params.get("dragged"))
    if pull and _makes_a_camera(form):
        layout = layout or figures.layout_of(form.instance)
        changed = figures.pulled(form.instance, layout, *pull)
        form = _form(params.dict() | changed, thing)
    if not _makes_a_camera(form):
        return Typed(form, None, tuple(changed))
    held = layout if drag.is_moving(params.get("dragged")) else None
    shown = study(form.instance, held, live=True)
    return Typed(form, replace(shown, is_proposed=form.proposes_hole), tuple(changed))


def study_of(form):
    """The Study of the camera that a form holds, typed or as it begins, or None while it makes
    none.
    """
    if not form.is_bound:
        begun = {name: form[name].value() for name in form.fields}
        typed = {name: value for name, value in begun.items() if value not in (None, False)}
        form = CameraForm(typed, instance=copy(form.instance))
    return study(form.instance) if _makes_a_camera(form) else None


def _form(params, thing):
    return CameraForm(params, instance=copy(thing))


def _makes_a_camera(form):
    """True if the measures typed so far are those of a camera; a name is not needed."""
    form.is_valid()
    return not set(form.errors) - {"name", "note"}


def study(camera, layout=None, *, live=False):
    """The Study of a Camera whose paper can lie in it; while it is dragged it stays in a Layout."""
    return Study(
        camera=camera,
        layout=layout or figures.layout_of(camera),
        live=live,
        above=replace(figures.section(camera, layout), id="camera-above"),
        side=replace(figures.side(camera), id="camera-side"),
        fall_off=figures.fall_off(camera),
        blur=None if camera.is_lens else replace(figures.blur(camera), id="camera-blur"),
        rules=[] if camera.is_lens else _rules(camera),
        factors=[(end, optics.meter_factor(camera.f_number, end)) for end in METER_ENDS],
        tenth=_bellows(camera) if camera.is_lens else _tenth(),
        cut_off=_cut_off(camera),
    )


def _rules(camera):
    """(name, best hole, its blur, its lines per mm, where the rule is from) of each rule, the hole
    in use first.
    """
    holes = [("in use", camera.diameter_mm, "as measured")]
    holes += [
        (name, optics.best_diameter_mm(camera.focal_mm, constant=constant), source)
        for name, constant, source in optics.BEST_RULES
    ]
    blurs = [optics.blur_mm(camera.focal_mm, hole_mm) for _, hole_mm, _ in holes]
    return [
        (name, hole, blur, 1 / blur, source)
        for (name, hole, source), blur in zip(holes, blurs, strict=True)
    ]


def _tenth():
    stops = 2 * log2(TENTH)
    return f"A hole 10 % off costs {size_of_stops(stops)} ({number(stops, 2)})."


def _bellows(camera):
    factor = number((camera.depth_mm / camera.focal_mm) ** 2)
    return (
        f"Marked f/{number(camera.marked_f_number)}; the bellows factor is {factor}, in the "
        "f-number already."
    )


def _cut_off(camera):
    """Angle at which plate or opening end the field, against what the paper's corners need."""
    limit = camera.cut_off_deg
    if limit is None:
        return ""
    right, up = np.radians(camera.geometry.outline())
    needed = 2 * np.degrees(np.arccos(np.cos(right) * np.cos(up))).max()
    ends, cause = limit
    warning = (
        f"{cause[0].upper()}{cause[1:]} ends the field at {number(ends)}°; the paper's "
        f"corners need {number(needed)}°"
    )
    return f"{warning}: nothing is cut." if ends >= needed else f"{warning}: they stay dark."
