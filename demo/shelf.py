"""Kit of the invented photographer."""

from django.utils import timezone

from chimney.kit import flows as kit
from chimney.kit.models import Box, Camera, Developer, Holder, Meter, Paper
from chimney.parts import clock, sizes
from pinhole import reciprocity

# The round tin has no holder and no rails: the sheet curls straight in.
TIN = {"name": "Biscuit", "back": "can", "focal_mm": 96, "diameter_mm": 0.34, "size": "5x7 in"}
TIN |= {
    "cut_width_mm": 175.8,
    "cut_height_mm": 125,
    "visible_width_mm": 175.8,
    "visible_height_mm": 125,
}
CAMERAS = (
    ("Plank", 125, 0.41, "4x5 in"),
    ("Wedge", 68, 0.33, "4x5 in"),
    ("Long Tom", 300, 0.72, "8x10 in"),
)
BOXES = (
    ("RC box, spring", "grade-2 RC", "4x5 in", 50),
    ("positive box", "direct positive fibre", "4x5 in", 20),
    ("big positive box", "direct positive fibre", "8x10 in", 10),
)
DEVELOPERS = (
    ("paper developer", 10, 60, "Liquid concentrate, room temperature."),
    ("coffee", None, 300, "Washing soda crystals, instant coffee, vitamin C, in that order."),
    ("film developer", 25, 480, ""),
)


def fill():
    """Cameras, papers, developers, holders, boxes and a meter."""
    for name, focal, pinhole, size in CAMERAS:
        cut = sizes.cut(size)[::-1]
        visible = sizes.visible(*cut)
        camera = Camera(
            name=name,
            focal_mm=focal,
            diameter_mm=pinhole,
            size=size,
            cut_width_mm=cut[0],
            cut_height_mm=cut[1],
            visible_width_mm=visible[0],
            visible_height_mm=visible[1],
        )
        kit.keep_camera(camera, loads_directly=False)
    kit.keep_camera(Camera(**TIN), loads_directly=True)
    kit.take_starter_papers()
    Paper.objects.filter(name="grade-3 fibre").update(school=reciprocity.PowerLaw.name)
    for name, parts, usual_s, note in DEVELOPERS:
        Developer.objects.create(name=name, parts=parts, usual_s=usual_s, note=note)
    Meter.objects.create(name="hand meter", lowest_iso=6, last_f_number=128)
    Meter.objects.create(name="phone", kind=Meter.Kind.PHONE, lowest_iso=50, last_f_number=64)
    for name, paper, size, sheets in BOXES:
        fields = {"size": size, "sheets": sheets, "opened_on": timezone.localdate(clock.now())}
        Box.objects.create(name=name, paper=Paper.objects.get(name=paper), **fields)
    for name, size in (
        ("1", "4x5 in"),
        ("2", "4x5 in"),
        ("3", "4x5 in"),
        ("4", "4x5 in"),
        ("5", "8x10 in"),
    ):
        Holder.objects.create(name=name, size=size)
