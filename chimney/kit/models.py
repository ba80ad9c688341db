"""What a photographer owns: cameras, papers, holders, developers."""

from django.db import models
from django.db.models.functions import Lower

from chimney.kit import papers
from chimney.kit.failings import BY_CODE, FAILINGS, TIGHT
from chimney.parts import sizes
from pinhole import exposure, optics, projection, reciprocity

# Sides of a holder, or sheets one after the other in a camera that is loaded directly.
LETTERS = "ABCDEFGH"
# Beyond this no line over dots on a lid can be sighted along.
STEEPEST_DEG = 75


class InUse(models.QuerySet):
    def in_use(self):
        return self.filter(retired_at=None)


class Thing(models.Model):
    """A named thing that is retired rather than deleted, because old sheets still speak of it."""

    name = models.CharField(max_length=60)
    note = models.TextField(blank=True, max_length=2000)
    retired_at = models.DateTimeField(null=True, blank=True, editable=False)
    objects = InUse.as_manager()

    class Meta:
        abstract = True
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(
                Lower("name"), name="%(class)s_name_once", violation_error_message="This name is already taken."
            )
        ]

    def __str__(self):
        return self.name


class Camera(Thing):
    """A dark box with a hole. The nominal, the cut and the visible size of its sheet are kept apart.

    focal_mm is the way from the hole to the paper straight ahead: the inner diameter of a can, the radius of an arc.
    """

    class Shape(models.TextChoices):
        FLAT = "flat", "flat back"
        CAN = "can", "can: hole in the wall, paper round the far wall"
        ARC = "arc", "curved back about the hole"
        LENS = "lens", "a lens instead of a hole"

    body = models.ForeignKey("self", models.CASCADE, null=True, blank=True, related_name="settings")
    marked_f_number = models.FloatField(null=True, blank=True)
    extension_mm = models.FloatField(null=True, blank=True)
    places = models.PositiveSmallIntegerField(default=1)
    back = models.CharField(max_length=10, choices=Shape, default=Shape.FLAT)
    focal_mm = models.FloatField()
    diameter_mm = models.FloatField()
    diameter_sd_mm = models.FloatField(null=True, blank=True)
    measured_on = models.DateField(null=True, blank=True)
    body_mm = models.FloatField(null=True, blank=True)
    size = models.CharField(max_length=20)
    cut_width_mm = models.FloatField()
    cut_height_mm = models.FloatField()
    visible_width_mm = models.FloatField()
    visible_height_mm = models.FloatField()
    offset_mm = models.FloatField(default=0.0)
    wall_mm = models.FloatField(null=True, blank=True)
    opening_mm = models.FloatField(null=True, blank=True)
    opening_depth_mm = models.FloatField(null=True, blank=True)

    @property
    def measures(self):
        """Everything that makes it draw as it does, its name and its past left out."""
        out = {"id", "name", "note", "retired_at", "measured_on"}
        return tuple(getattr(self, field.attname) for field in self._meta.concrete_fields if field.name not in out)

    @property
    def body_pk(self):
        """The box it really is: another setting of a camera is open when the camera is."""
        return self.body_id or self.pk

    @property
    def is_lens(self):
        return self.back == self.Shape.LENS

    @property
    def is_round(self):
        return sizes.is_round(self.size) and self.back in (self.Shape.FLAT, self.Shape.LENS)

    @property
    def depth_mm(self):
        """Hole or lens to paper."""
        return self.extension_mm or self.focal_mm if self.is_lens else self.focal_mm

    @property
    def f_number(self):
        if self.is_lens:
            return optics.bellows_f_number(self.marked_f_number, self.focal_mm, self.depth_mm)
        return optics.f_number(self.focal_mm, self.diameter_mm)

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
        """The back as the craft computes it. Raises ValueError for paper that cannot lie there."""
        visible = (self.visible_width_mm, self.visible_height_mm)
        if self.back == self.Shape.CAN:
            return projection.CanBack(self.focal_mm, *visible, self.offset_mm)
        shape = projection.ArcBack if self.back == self.Shape.ARC else projection.FlatBack
        if self.is_round:
            shape, visible = projection.RoundBack, (min(visible),) * 2
        return shape(self.depth_mm, *visible)

    @property
    def has_dots(self):
        """Whether its edges can be sighted along dots on its lid."""
        across, up, down = self.geometry.field_deg()
        return max(across / 2, up, down) <= STEEPEST_DEG

    @property
    def cut_off_deg(self):
        """The whole angle beyond which the hole's tube or the opening's rim cuts, and which of them; or None."""
        limits = []
        if self.wall_mm:
            limits.append((optics.wall_field_deg(self.diameter_mm, self.wall_mm), "the thickness of the pinhole plate"))
        if self.opening_mm and self.opening_depth_mm:
            limits.append(
                (optics.opening_field_deg(self.opening_mm, self.opening_depth_mm), "the opening at the plate")
            )
        return min(limits, default=None)


class Observation(models.Model):
    """What a camera was seen to do: a failing, until it is mended, or that it was found tight."""

    camera = models.ForeignKey(Camera, models.CASCADE, related_name="observations")
    kind = models.CharField(
        max_length=10, choices=[(TIGHT, "found light-tight"), *((failing.code, failing.words) for failing in FAILINGS)]
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
        return BY_CODE.get(self.kind)


class Papers(InUse):
    def developed(self):
        """Papers in use that are timed and developed; a solargraph's paper is neither."""
        return self.in_use().exclude(kind="solargraph")

    def timed(self):
        """Those, and retired ones of which a sheet still lies loaded somewhere."""
        usable = models.Q(retired_at=None) | models.Q(sheet__stage__in=["loaded", "exposed"])
        return self.filter(usable).exclude(kind="solargraph").distinct()


class Paper(Thing):
    class Kind(models.TextChoices):
        NEGATIVE = "negative", "paper negative"
        POSITIVE = "positive", "direct positive paper"
        REVERSAL = "reversal", "reversal-processed paper"
        FILM = "film", "sheet film"
        SOLARGRAPH = "solargraph", "solargraph paper"

    class Base(models.TextChoices):
        RC = "rc", "RC"
        FIBRE = "fibre", "fibre"
        FILM = "film", "film base"

    class School(models.TextChoices):
        NONE = "none", "no correction: as printing exposures are long anyway"
        POWER = "power", "power law above an onset"
        TABLE = "table", "maker's table"

    class Sees(models.TextChoices):
        BLUE = "blue", "blue alone"
        GREEN = "green", "blue and green"
        ORTHO = "ortho", "all but red"
        PAN = "pan", "all colours"

    kind = models.CharField(max_length=10, choices=Kind, default=Kind.NEGATIVE)
    range_stops = models.FloatField(default=5.0)
    base = models.CharField(max_length=10, choices=Base, default=Base.RC)
    box_ei = models.FloatField()
    sees = models.CharField(max_length=10, choices=Sees, default=Sees.BLUE)
    contrast = models.CharField(max_length=60, blank=True)
    school = models.CharField(max_length=10, choices=School, default=School.NONE)
    exponent = models.FloatField(default=reciprocity.power_law.SCHWARZSCHILD)
    onset_s = models.FloatField(default=1.0)
    table = models.JSONField(default=list, blank=True)
    objects = Papers.as_manager()

    @property
    def hints(self):
        """What it does to colours, under which light it is handled, and which side faces the hole."""
        return papers.SEES[self.sees], papers.SAFELIGHT[self.sees], papers.EMULSION[self.base]

    @property
    def schools(self):
        """Every school this paper can be exposed by, by name."""
        found = {"none": reciprocity.NoCorrection(), "power": reciprocity.PowerLaw(self.exponent, self.onset_s)}
        if self.table:
            found["table"] = reciprocity.Table(tuple(map(tuple, self.table)))
        return found


class Box(Thing):
    """A box of paper: how many sheets of which size were in it when it was opened, and how old it is."""

    paper = models.ForeignKey(Paper, models.CASCADE, related_name="boxes")
    size = models.CharField(max_length=20)
    cut_to = models.CharField(max_length=20, blank=True)
    sheets = models.PositiveIntegerField()
    batch = models.CharField(max_length=40, blank=True)
    made_in = models.PositiveIntegerField(null=True, blank=True)
    opened_on = models.DateField()

    @property
    def piece(self):
        """The size of the sheets that are loaded: cut smaller, or as they come."""
        return self.cut_to or self.size

    @property
    def pieces(self):
        """How many of them the box gave when it was opened."""
        return self.sheets * (sizes.pieces(self.size, self.cut_to) if self.cut_to else 1)


class Person(Thing):
    """Whose a sheet is, in a class or a club: a name, never an account."""


class Developer(Thing):
    """What a sheet is developed in, with the dilution and the minutes it is usually given."""

    parts = models.FloatField(null=True, blank=True)
    usual_s = models.FloatField()

    @property
    def dilution(self):
        return f"1+{self.parts:g}" if self.parts else "as mixed"


class Meter(Thing):
    """What light is read with, and where its scales end."""

    class Kind(models.TextChoices):
        HAND = "hand", "hand meter"
        SPOT = "spot", "spot meter"
        PHONE = "phone", "phone"
        CAMERA = "camera", "another camera"

    kind = models.CharField(max_length=10, choices=Kind, default=Kind.HAND)
    lowest_iso = models.FloatField(default=6.0)
    last_f_number = models.FloatField(default=128.0)


class Holder(Thing):
    """Sides A and B for sheets of one size; a holder with a camera is that camera's own back and has one side."""

    size = models.CharField(max_length=20)
    camera = models.OneToOneField(Camera, models.CASCADE, null=True, blank=True, related_name="own_back")

    @property
    def sides(self):
        """Letters of its sides, or of the sheets that lie one after the other in a camera."""
        return tuple(LETTERS[: self.camera.places]) if self.camera_id else ("A", "B")

    def place(self, letter):
        """How a side is called: "holder 4, side A", or the camera's own back, with its sheet if there are several."""
        if self.camera_id:
            return f"{self.name}, sheet {letter}" if len(self.sides) > 1 else self.name
        return f"holder {self.name}, side {letter}"
