"""Papers and the boxes they come in."""

from django.db import models

from chimney.kit.catalogue import papers
from chimney.kit.models.things import InUse, Thing
from chimney.parts import sizes
from pinhole import media, reciprocity


class Papers(InUse):
    def developed(self):
        """Papers in use that are timed and developed; a solargraph's paper is neither."""
        return self.in_use().filter(kind__in=media.timed())

    def timed(self):
        """Those, and retired ones of which a sheet still lies loaded somewhere."""
        usable = models.Q(retired_at=None) | models.Q(sheet__stage__in=["loaded", "exposed"])
        return self.filter(usable, kind__in=media.timed()).distinct()

    def put_out(self):
        """Papers in use that darken by themselves in a can."""
        return self.in_use().exclude(kind__in=media.timed())

    def printed_on(self):
        """Papers in use that contact prints are made on."""
        kinds = [name for name, medium in media.MEDIA.items() if medium.is_printed_on]
        return self.developed().filter(kind__in=kinds)


class Paper(Thing):
    class Base(models.TextChoices):
        RC = "rc", "RC"
        FIBRE = "fibre", "fibre"
        FILM = "film", "film base"

    class Sees(models.TextChoices):
        BLUE = "blue", "blue alone"
        GREEN = "green", "blue and green"
        ORTHO = "ortho", "all but red"
        PAN = "pan", "all colours"

    kind = models.CharField(max_length=10, choices=media.choices, default="negative")
    range_stops = models.FloatField(default=5.0)
    base = models.CharField(max_length=10, choices=Base, default=Base.RC)
    box_ei = models.FloatField()
    sees = models.CharField(max_length=10, choices=Sees, default=Sees.BLUE)
    contrast = models.CharField(max_length=60, blank=True)
    school = models.CharField(max_length=10, choices=reciprocity.choices, default="none")
    exponent = models.FloatField(default=reciprocity.power_law.SCHWARZSCHILD)
    onset_s = models.FloatField(default=1.0)
    table = models.JSONField(default=list, blank=True)
    objects = Papers.as_manager()  # type: ignore[misc]

    @property
    def medium(self):
        """The Medium that it is."""
        return media.medium(self.kind)

    @property
    def hints(self):
        """Hints on its colours, the light it is handled in, and the side that faces the hole."""
        return papers.SEES[self.sees], papers.SAFELIGHT[self.sees], papers.EMULSION[self.base]

    def is_like(self, other):
        """True if it may be the same paper as another, entered twice."""
        return self.pk != other.pk and (self.kind, self.base) == (other.kind, other.base)

    @property
    def alike(self):
        """Papers in use that it may really be."""
        return Paper.objects.in_use().filter(kind=self.kind, base=self.base).exclude(pk=self.pk)

    @property
    def schools(self):
        """Every school this paper can be exposed by, by name."""
        numbers = {"exponent": self.exponent, "onset_s": self.onset_s, "table": self.table}
        return reciprocity.of_paper(numbers)


class Box(Thing):
    """A box of paper: how many sheets of which size were in it when it was opened, and how old it
    is.
    """

    paper = models.ForeignKey(Paper, models.CASCADE, related_name="boxes")
    size = models.CharField(max_length=20)
    cut_to = models.CharField(max_length=20, blank=True)
    sheets = models.PositiveIntegerField()
    batch = models.CharField(max_length=40, blank=True)
    made_in = models.PositiveIntegerField(null=True, blank=True)
    opened_on = models.DateField()
    # What the whole box cost, in one's own money; empty where nobody minds.
    price = models.FloatField(null=True, blank=True)

    @property
    def piece(self):
        """The size of the sheets that are loaded: cut smaller, or as they come."""
        return self.cut_to or self.size

    @property
    def pieces(self):
        """Number of sheets that the box gave when it was opened."""
        return self.sheets * (sizes.pieces(self.size, self.cut_to) if self.cut_to else 1)
