"""Cameras, and what was seen of them in use."""

from dataclasses import replace

from django.db import models

from chimney.kit.catalogue import backs
from chimney.kit.catalogue.failings import FAILING_BY_CODE, FAILINGS, TIGHT
from chimney.kit.models.things import Thing
from chimney.parts import sizes
from pinhole import exposure, optics

# Less and more than this is no pinhole (common practice).
LEAST_N, MOST_N = 30, 5000
# Beyond this no line over dots on a lid can be sighted along.
MOST_TILT_DEG = 75


class Camera(Thing):
    """A dark box with a hole. The nominal, the cut and the visible size of its sheet are kept
    apart.

    focal_mm is the way from the hole to the paper straight ahead: the inner diameter of a can, the
    radius of an arc; height_mm is the inner height of a can.
    """

    body = models.ForeignKey("self", models.CASCADE, null=True, blank=True, related_name="settings")
    marked_f_number = models.FloatField(null=True, blank=True)
    # What a lens can be set to, as it is marked: "5.6 8 11"; empty: its widest alone.
    apertures = models.CharField(max_length=80, blank=True)
    extension_mm = models.FloatField(null=True, blank=True)
    places = models.PositiveSmallIntegerField(default=1)
    back = models.CharField(max_length=10, choices=backs.choices, default=backs.FIRST_BACK)
    focal_mm = models.FloatField()
    diameter_mm = models.FloatField()
    diameter_sd_mm = models.FloatField(null=True, blank=True)
    measured_on = models.DateField(null=True, blank=True)
    # Since when its hole is another one than before, and not the old one measured again.
    renewed_at = models.DateTimeField(null=True, blank=True)
    body_mm = models.FloatField(null=True, blank=True)
    size = models.CharField(max_length=20)
    cut_width_mm = models.FloatField()
    cut_height_mm = models.FloatField()
    visible_width_mm = models.FloatField()
    visible_height_mm = models.FloatField()
    height_mm = models.FloatField(null=True, blank=True)
    offset_mm = models.FloatField(default=0.0)
    wall_mm = models.FloatField(null=True, blank=True)
    opening_mm = models.FloatField(null=True, blank=True)
    opening_depth_mm = models.FloatField(null=True, blank=True)

    @property
    def measures(self):
        """Everything that makes it draw as it does, its name and its past left out."""
        out = {"id", "name", "note", "retired_at", "measured_on", "renewed_at"}
        return tuple(
            getattr(self, field.attname)
            for field in self._meta.concrete_fields
            if field.name not in out
        )

    @property
    def body_pk(self):
        """The box it really is: another setting of a camera is open when the camera is."""
        return self.body_id or self.pk

    @property
    def is_lens(self):
        return self.back_kind.is_lens

    @property
    def back_kind(self):
        """The BackKind that it has."""
        return backs.BACK_KINDS[self.back]

    @property
    def is_round(self):
        """True if its sheet is."""
        return sizes.is_round(self.size) and self.back_kind.takes_round

    @property
    def depth_mm(self):
        """Hole or lens to paper."""
        return self.extension_mm or self.focal_mm if self.is_lens else self.focal_mm

    @property
    def length_mm(self):
        """Length along its axis: of its body if that was measured, else its depth."""
        return self.body_mm or self.depth_mm

    @property
    def f_number(self):
        return self.f_number_at(None)

    def f_number_at(self, aperture):
        """Its f-number; of a lens at one of its apertures, at its widest if None, with its
        bellows.
        """
        if self.is_lens:
            marked = aperture or self.marked_f_number
            return optics.bellows_f_number(marked, self.focal_mm, self.depth_mm)
        return optics.f_number(self.focal_mm, self.diameter_mm)

    @property
    def stops(self):
        """The apertures of a lens as numbers, the widest first; none of a hole."""
        if not self.is_lens:
            return ()
        return tuple(float(word) for word in self.apertures.split()) or (self.marked_f_number,)

    @property
    def meter_factor(self):
        return optics.meter_factor(self.f_number)

    @property
    def hole_sd_mm(self):
        return self.diameter_sd_mm or exposure.HOLE_SD_SHARE * self.diameter_mm

    @property
    def hole_sd_stops(self):
        return optics.diameter_stops(self.diameter_mm, self.hole_sd_mm)

    @property
    def geometry(self):
        """The back as the craft computes it, seen through the hole as deep as it is. Raises
        ValueError for paper that cannot lie there.
        """
        back, limit = self.back_kind.geometry(self), self.cut_off_deg
        if self.wall_mm:
            tube_deg = optics.wall_field_deg(self.diameter_mm, self.wall_mm)
            back = replace(back, tube_half_deg=tube_deg / 2)
        return replace(back, half_field_deg=limit[0] / 2) if limit else back

    @property
    def has_dots(self):
        """True if its edges can be sighted along dots on its lid."""
        across, up, down = self.geometry.field_deg()
        return max(across / 2, up, down) <= MOST_TILT_DEG

    @property
    def cut_off_deg(self):
        """The whole angle beyond which the hole's tube or the opening's rim cuts, and which of
        them; or None.
        """
        limits = []
        if self.wall_mm:
            limits.append(
                (
                    optics.wall_field_deg(self.diameter_mm, self.wall_mm),
                    "the thickness of the pinhole plate",
                )
            )
        if self.opening_mm and self.opening_depth_mm:
            limits.append(
                (
                    optics.opening_field_deg(self.opening_mm, self.opening_depth_mm),
                    "the opening at the plate",
                )
            )
        return min(limits, default=None)


class Observation(models.Model):
    """Observation on a camera: a failing, until it is mended, or that it was found tight."""

    camera = models.ForeignKey(Camera, models.CASCADE, related_name="observations")
    kind = models.CharField(
        max_length=10,
        choices=[
            (TIGHT, "found light-tight"),
            *((failing.code, failing.words) for failing in FAILINGS),
        ],
    )
    words = models.CharField(max_length=200, blank=True)
    seen_at = models.DateTimeField()
    mended_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-seen_at", "-pk"]

    def __str__(self):
        return f"{self.camera}: {self.get_kind_display()}"

    @property
    def failing(self):
        return FAILING_BY_CODE.get(self.kind)
