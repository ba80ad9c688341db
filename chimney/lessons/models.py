"""Lessons, and the evidence of each judged sheet."""

from django.db import models
from django.db.models import Q

from chimney.kit.models import Camera, Developer, Paper
from chimney.logbook.models import Sheet
from chimney.parts.scales import number
from pinhole.exposure import nearest_speed
from pinhole.lessons import CENTRAL_90


class Evidence(models.Model):
    """The EI at which one judged sheet would have come out right; with a reason it is shown but not
    counted.
    """

    sheet = models.OneToOneField(Sheet, models.CASCADE, related_name="evidence")
    paper = models.ForeignKey(Paper, models.CASCADE)
    developer = models.ForeignKey(Developer, models.CASCADE)
    log2_ei = models.FloatField()
    reason = models.CharField(max_length=120, blank=True)
    exposed_at = models.DateTimeField()
    # What the model of the whole log reads: seconds at the box EI before reciprocity, those that
    # would have been right, and which camera, light and process it was. Empty where it was
    # written down before there was one.
    metered_s = models.FloatField(null=True)
    needed_s = models.FloatField(null=True)
    camera = models.ForeignKey(Camera, models.SET_NULL, null=True)
    light = models.CharField(max_length=10, blank=True)
    filter_stops = models.FloatField(default=0.0)
    process = models.CharField(max_length=80, blank=True)
    # What the eye called the sky. Sheets timed by it teach the eye alone; beside a meter,
    # eye_stops is how much more light that word would have meant.
    sky = models.CharField(max_length=20, blank=True)
    eye_stops = models.FloatField(null=True)
    # How much it counts in that model: odd ones little.
    weight = models.FloatField(default=1.0)

    class Meta:
        ordering = ["-exposed_at", "-pk"]
        indexes = [
            models.Index(fields=["paper", "developer", "-exposed_at"], name="evidence_of_pair")
        ]

    def __str__(self):
        return f"{self.sheet}: EI {self.ei:.1f}"

    @property
    def ei(self):
        return 2**self.log2_ei


class Lesson(models.Model):
    """The personal EI of a paper in a developer, or of the paper in all of them where developer is
    empty.
    """

    # Reckoned from sheets, and so anew when they go elsewhere.
    IS_RECKONED = True

    class Standing(models.TextChoices):
        NEW = "new", "new"
        KEPT = "kept", "in your plans"
        DECLINED = "declined", "not proposed"

    paper = models.ForeignKey(Paper, models.CASCADE)
    developer = models.ForeignKey(Developer, models.CASCADE, null=True)
    ei = models.FloatField()
    low = models.FloatField()
    high = models.FloatField()
    sd_log2 = models.FloatField()
    sheets = models.PositiveIntegerField()
    standing = models.CharField(max_length=10, choices=Standing, default=Standing.NEW)
    answered_ei = models.FloatField(null=True)
    learned_at = models.DateTimeField()

    class Meta:
        ordering = ["-learned_at", "-pk"]
        constraints = [
            models.UniqueConstraint(fields=["paper", "developer"], name="one_lesson_a_pair"),
            models.UniqueConstraint(
                fields=["paper"], condition=Q(developer=None), name="one_pooled_lesson_a_paper"
            ),
        ]

    def __str__(self):
        return self.sentence

    @property
    def evidence(self):
        """The Evidence behind it, newest first."""
        rows = Evidence.objects.filter(paper=self.paper_id)
        return rows.filter(developer=self.developer_id) if self.developer_id else rows

    @property
    def speed(self):
        """The preferred speed nearest to the learned EI: finer than that nobody rates a paper."""
        return nearest_speed(self.ei)

    @property
    def sentence(self):
        box, yours = number(self.paper.box_ei), number(self.speed)
        bath = f" when it goes into {self.developer}" if self.developer else ""
        if yours == box:
            return f"{self.paper} is right at EI {box}{bath}."
        return f"Rate {self.paper} at {yours}, not {box}{',' if bath else ''}{bath}."


class WholeLog(models.Model):
    """Result of the model of the whole log when it was learned last, as plain data: one row, so
    that a page need not learn anew.
    """

    # Empty until it was learned once.
    data = models.JSONField(null=True)
    learned_at = models.DateTimeField(null=True)
    # How often the log has changed, and how many of those changes were learned from.
    changes = models.PositiveBigIntegerField(default=0)
    learned_changes = models.PositiveBigIntegerField(default=0)

    def __str__(self):
        return f"learned {self.learned_at:%Y-%m-%d %H:%M}" if self.learned_at else "not learned"

    @property
    def is_behind(self):
        return self.changes != self.learned_changes


class KeptSearch(models.Model):
    """A search of the log, kept by name as its address."""

    name = models.CharField(max_length=60, unique=True)
    # Longer than what is typed: rows are called by longer names where it travels.
    query = models.CharField(max_length=800, blank=True)

    class Meta:
        ordering = ["name"]

    def __str__(self):
        return self.name


class Findings(models.QuerySet):
    def clear(self):
        """Those that are more than chance, and matter."""
        return self.filter(is_clear=True)

    def for_plans(self):
        """Those that a plan asks for by themselves: what is switched off, and words for the
        light.
        """
        return self.filter(Q(standing=Lesson.Standing.DECLINED) | Q(kind=Finding.Kind.EYE))


class Finding(models.Model):
    """Finding of the log beside the EI: a paper's exponent, or how many stops more a camera, a
    light, a process, a box or a filter asks for. What was declined enters no plan.
    """

    # Reckoned from sheets, and so anew when they go elsewhere.
    IS_RECKONED = True

    class Kind(models.TextChoices):
        EXPONENT = "exponent", "long times"
        CAMERA = "camera", "camera"
        LIGHT = "light", "light"
        PROCESS = "process", "process"
        BOX = "box", "box"
        FILTER = "filter", "filter"
        EYE = "eye", "light by eye"

    kind = models.CharField(max_length=10, choices=Kind)
    paper = models.ForeignKey(Paper, models.CASCADE, null=True)
    camera = models.ForeignKey(Camera, models.CASCADE, null=True)
    # Which camera, paper, light or process, as the model of the log names it.
    of = models.CharField(max_length=80)
    mean = models.FloatField()
    sd = models.FloatField()
    sheets = models.PositiveIntegerField()
    # Whether chance hardly ever makes it so, and how many sd it must be off for that.
    is_clear = models.BooleanField(default=False)
    bar = models.FloatField(default=CENTRAL_90)
    standing = models.CharField(max_length=10, choices=Lesson.Standing, default=Lesson.Standing.NEW)
    answered_mean = models.FloatField(null=True)
    learned_at = models.DateTimeField()
    objects = Findings.as_manager()

    class Meta:
        ordering = ["-sheets", "pk"]
        constraints = [models.UniqueConstraint(fields=["kind", "of"], name="one_finding_each")]

    def __str__(self):
        return f"{self.kind} {self.camera or self.paper or self.of}: {self.mean:+.2f}"

    Standing = Lesson.Standing

    @property
    def low(self):
        return self.mean - CENTRAL_90 * self.sd

    @property
    def high(self):
        return self.mean + CENTRAL_90 * self.sd
