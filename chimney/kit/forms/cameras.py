"""A camera whose measures make one: what contradicts itself is told beside its field."""

import re

from django import forms

from chimney.kit.catalogue import backs
from chimney.kit.forms.measures import CameraMeasures
from chimney.kit.models import LEAST_N, MOST_N, Holder
from chimney.parts import sizes
from pinhole import optics

# How far holes that are pricked with a needle differ from what was meant, until they are measured
# (common practice): a quarter.
NEEDLE_SD = 0.25
# Sizes that differ by less are the same.
SAME_MM = 0.05


class CameraForm(CameraMeasures):
    field_order = ["name", "back", "focal_mm", "height_mm", "diameter_mm", "marked_f_number"]
    field_order += ["extension_mm", "size", "loads_directly", "cut", "visible", "diameter_sd_mm"]

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        camera = self.instance
        if camera.pk:
            self._begin_sizes(camera)
            self.initial["loads_directly"] = Holder.objects.in_use().filter(camera=camera).exists()
        elif not self.initial.get("offset_mm"):
            self.initial["offset_mm"] = None

    def _begin_sizes(self, camera):
        """Leave usual sizes empty, so that they move along with what they follow from."""
        cut = full_size = camera.cut_width_mm, camera.cut_height_mm
        visible = camera.visible_width_mm, camera.visible_height_mm
        if _near(cut, _usual_cut(camera.size)):
            cut = ""
        if _near(visible, _usual_visible(camera.back_kind, full_size)):
            visible = ""
        self.initial |= {"cut": cut, "visible": visible}
        if camera.offset_mm == _usual_offset(full_size[1], camera.height_mm):
            self.initial["offset_mm"] = None

    def clean(self):
        cleaned = super().clean()
        if self._has_lens():
            self._check_lens(cleaned)
            return self._clean_rest(cleaned)
        cleaned["apertures"] = ""
        if self.proposes_hole:
            hole_mm = suiting_mm(cleaned["focal_mm"])
            cleaned |= {"diameter_mm": hole_mm, "diameter_sd_mm": NEEDLE_SD * hole_mm}
        return self._clean_rest(cleaned)

    @property
    def proposes_hole(self):
        """True if nobody said how wide the hole is, and the depth tells which one suits."""
        typed = str(self["diameter_mm"].value() or "").strip()
        return not typed and bool(self.cleaned_data.get("focal_mm")) and not self._has_lens()

    def _kind(self):
        """The BackKind that was chosen, the first one until then."""
        return backs.BACK_KINDS[self.cleaned_data.get("back") or backs.FIRST_BACK]

    def _has_lens(self):
        return self._kind().is_lens

    def _clean_rest(self, cleaned):
        self._check_hole(
            cleaned.get("focal_mm"), cleaned.get("diameter_mm"), cleaned.get("diameter_sd_mm")
        )
        if cleaned.get("size") and not {"cut", "visible"} & set(self.errors):
            self._check_sizes(cleaned)
        return cleaned

    def clean_apertures(self):
        """The numbers of a lens in their order, each once."""
        texts = re.split(r"[\s,;]+", self.cleaned_data["apertures"].lower().replace("f/", " "))
        try:
            stops = sorted({float(word) for word in texts if word})
        except ValueError as error:
            raise forms.ValidationError("Write the numbers alone, like 5.6 8 11.") from error
        if not all(0.7 <= stop <= 256 for stop in stops) or len(stops) > 12:
            raise forms.ValidationError("At most 12 apertures, between f/0.7 and f/256.")
        return " ".join(f"{stop:g}" for stop in stops)

    def _check_lens(self, cleaned):
        """A lens is known by its marks; what stands for its hole follows from them."""
        focal, marked, extension = (
            cleaned.get(name) for name in ("focal_mm", "marked_f_number", "extension_mm")
        )
        if marked is None and "marked_f_number" not in self.errors:
            self.add_error("marked_f_number", "A lens needs its marked f-number.")
        if focal and extension and extension < focal * 0.99:
            self.add_error(
                "extension_mm",
                f"Nearer than {focal:g} mm no lens of that focal length draws a picture.",
            )
        if focal and marked:
            cleaned["diameter_mm"] = focal / marked
        stops = [float(word) for word in (cleaned.get("apertures") or "").split()]
        if marked and stops and min(stops) < 0.97 * marked:
            self.add_error("apertures", f"It is marked f/{marked:g}: no aperture is wider.")
        if marked and stops and marked not in stops:
            stops = sorted({*stops, marked})
            cleaned["apertures"] = " ".join(f"{stop:g}" for stop in stops)

    def _check_hole(self, focal_mm, diameter_mm, sd_mm):
        if not focal_mm or not diameter_mm or self._has_lens():
            return
        n = optics.f_number(focal_mm, diameter_mm)
        is_f = f"A pinhole of {diameter_mm:g} mm in a {focal_mm:g} mm box is f/{n:.3g}"
        if n < LEAST_N:
            # A slipped decimal point is the usual cause: the first shift of it that makes a
            # pinhole.
            meant = next(
                diameter_mm / 10**shift for shift in (1, 2, 3, 4) if n * 10**shift >= LEAST_N
            )
            self.add_error(
                "diameter_mm",
                f"{is_f}, and less than f/{LEAST_N} is no pinhole: did you mean {meant:g}?",
            )
        elif n > MOST_N:
            self.add_error("diameter_mm", f"{is_f}; the limit is f/{MOST_N}.")
        if sd_mm and sd_mm > diameter_mm / 2:
            self.add_error(
                "diameter_sd_mm", "The measuring error must be less than half the pinhole."
            )

    def _check_sizes(self, cleaned):
        cut = cleaned["cut"] = cleaned.get("cut") or _usual_cut(cleaned["size"])
        nominal_short, nominal_long = sizes.NAMED_SIZES.get(cleaned["size"]) or sizes.parse(
            cleaned["size"]
        )
        if min(cut) > nominal_short + 0.5 or max(cut) > nominal_long + 0.5:
            self.add_error(
                "cut", f"A sheet cut larger than its nominal {cleaned['size']} would jam."
            )
        cleaned["visible"] = cleaned.get("visible") or _usual_visible(self._kind(), cut)
        self._stand(cleaned, cut[1])
        self._check_curve(cleaned, cut[0], cleaned["visible"][0])
        if cleaned.get("visible") and any(
            visible_mm > full_mm
            for visible_mm, full_mm in zip(cleaned["visible"], cut, strict=True)
        ):
            self.add_error(
                "visible",
                f"No more can be visible than the cut sheet has: {cut[0]:g}x{cut[1]:g} mm.",
            )

    def clean_places(self):
        return self.cleaned_data["places"] or 1

    def _stand(self, cleaned, high_mm):
        """Height of the sheet's middle over the hole: in a can it stands on the floor."""
        can_mm = cleaned.get("height_mm")
        if can_mm and high_mm > can_mm:
            self.add_error(
                "height_mm",
                f"The sheet stands {high_mm:g} mm high and would stick out of {can_mm:g} mm: cut "
                "it, or roll it the other way.",
            )
        if cleaned.get("offset_mm") is None and "offset_mm" not in self.errors:
            cleaned["offset_mm"] = _usual_offset(high_mm, can_mm)

    def _check_curve(self, cleaned, length, visible):
        """Paper that cannot lie in such a back."""
        if focal := cleaned.get("focal_mm"):
            for field, words in self._kind().limits(focal, length, visible):
                self.add_error(field, words)

    def _post_clean(self):
        for part in ("cut", "visible"):
            if isinstance(self.cleaned_data.get(part), tuple):
                width, height = self.cleaned_data[part]
                setattr(self.instance, f"{part}_width_mm", width)
                setattr(self.instance, f"{part}_height_mm", height)
        super()._post_clean()


def suiting_mm(depth_mm):
    """The hole that suits a depth, as well as one can prick it [mm]."""
    best_mm = optics.best_diameter_mm(depth_mm)
    return round(best_mm, 1 if best_mm >= 0.3 else 2)


def _usual_cut(size):
    """Such sheets as they are usually cut, the long side across [mm]."""
    return sizes.cut(size)[::-1]


def _usual_visible(kind, cut):
    """Part that rails leave of it, if there are any [mm]."""
    return sizes.visible(*cut) if kind.has_rails else cut


def _usual_offset(high_mm, can_mm):
    """The sheet stands on the floor and the hole is halfway up; at the hole's height, if nobody
    measured the can's.
    """
    return (high_mm - can_mm) / 2 if can_mm else 0.0


def _near(size, usual):
    return max(abs(a - b) for a, b in zip(size, usual, strict=True)) < SAME_MM
