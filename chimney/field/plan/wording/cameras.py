"""The cameras that a plan may be made with, each with its own time in the light that was read."""

from dataclasses import dataclass

from chimney.field import craft
from chimney.kit import figures
from chimney.kit.models import Camera
from chimney.parts.scales import number
from pinhole import durations, exposure


@dataclass(frozen=True)
class InThisLight:
    """camera; seconds: countable, None while nothing is read or no day is long enough; is_chosen:
    whether the plan is made with it; is_open: whether its hole is open now.
    """

    camera: Camera
    seconds: float | None
    is_chosen: bool
    is_open: bool

    @property
    def drawing(self):
        return figures.outline(self.camera)

    @property
    def sees(self):
        """Words for its f-number and its field."""
        across, _, _ = self.camera.geometry.field_deg()
        return f"f/{number(self.camera.f_number)}, {across:.0f}° across"


def in_this_light(page):
    """[InThisLight] of the cameras in use, in the order of the kit, cans last."""
    opened = {
        side.holder.camera_id
        for side in page.form.sides.values()
        if side.state == "exposing" and side.holder.camera_id
    }
    return [
        InThisLight(camera, _seconds(page, camera), camera == page.camera, camera.pk in opened)
        for camera in sorted(page.form.fields["camera"].rows, key=_is_can)
    ]


def _seconds(page, camera):
    """Countable seconds of one plain sheet in that camera, else as it is planned."""
    if page.plan is None:
        return None
    exact_s = page.plan.calculation.exact_s
    if camera != page.camera:
        exact_s = craft.in_camera_s(page.plan, page.form.cleaned_data, camera, page.lit)
    return durations.countable_s(exact_s) if exact_s <= exposure.LONGEST_S else None


def _is_can(camera):
    return camera.back_kind.stands
