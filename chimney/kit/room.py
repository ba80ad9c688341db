"""A room as a camera: what is typed, and what it comes to."""

from dataclasses import dataclass

from django import forms

from chimney.parts.fields import NumberField
from pinhole import durations, exposure, light, reciprocity, room

SKIES = {sky.name: sky for sky in light.SKIES}
# The order in which a room is made dark (common practice).
BLACK_OUT = (
    "The smallest window is the easiest; door gaps and keyholes first, then the window.",
    "Card or foil over the glass, taped all around, one flap left for the hole at eye height.",
    "Wait ten minutes in the dark, then look for light at every edge and tape it.",
    "Now open the hole. The picture comes as your eyes adapt, upside down, on wall, ceiling or a thin white curtain.",
)


class RoomForm(forms.Form):
    hole_mm = NumberField(label="Hole", unit="mm", least=0.5, most=100, noun="The hole")
    throw_m = NumberField(label="Hole to wall or screen", unit="m", least=0.2, most=50, noun="The throw")
    sky = forms.ChoiceField(label="Outside", choices=[(sky.name, sky.words) for sky in light.SKIES])
    iso = NumberField(label="Digital camera at ISO", least=25, most=102400, noun="The ISO", prefixes=("iso",))
    f_number = NumberField(label="and f/", least=0.7, most=64, noun="The f-number", prefixes=("f/", "f"))
    ei = NumberField(label="Paper on a table, EI", least=0.05, most=3200, noun="The EI", prefixes=("ei",))
    dioptres = NumberField(
        label="Reading-glass lens", unit="dioptres", least=0.25, most=20, noun="The lens", required=False
    )

    START = {"hole_mm": "7", "throw_m": "3.5", "sky": "sun", "iso": "800", "f_number": "4", "ei": "6"}


@dataclass(frozen=True)
class Answer:
    """picture: pinhole.room.Picture; photograph_s, paper_s: times; lens_m, lens_n: its focus and f-number."""

    picture: room.Picture
    photograph_s: float
    paper_s: float
    lens_m: float | None
    lens_n: float | None


def work_out(given):
    """The Answer of a cleaned RoomForm."""
    ev100 = SKIES[given["sky"]].ev100
    throw_mm = given["throw_m"] * 1000
    seen = room.picture(given["hole_mm"], throw_mm, light.lux_from_ev100(ev100))
    reading = exposure.read_ev(ev100, 100, "")
    sheet = exposure.work_out(reading, f_number=seen.f_number, ei=given["ei"], school=reciprocity.NoCorrection())
    lens_mm = room.lens_throw_mm(given["dioptres"]) if given.get("dioptres") else None
    return Answer(
        picture=seen,
        photograph_s=room.photograph_s(seen.wall_lux, given["f_number"], given["iso"]),
        paper_s=durations.countable_s(sheet.exact_s),
        lens_m=lens_mm and lens_mm / 1000,
        lens_n=lens_mm and lens_mm / given["hole_mm"],
    )
