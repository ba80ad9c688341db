"""A room as a camera: what comes of a hole in its window."""

from dataclasses import dataclass

from pinhole import durations, exposure, light, reciprocity, room

# The order in which a room is made dark (common practice).
BLACK_OUT = (
    "The smallest window is the easiest; door gaps and keyholes first, then the window.",
    "Card or foil over the glass, taped all around, one flap left for the hole at eye height.",
    "Wait ten minutes in the dark, then look for light at every edge and tape it.",
    "Now open the hole. The picture comes as your eyes adapt, upside down, on wall, "
    "ceiling or a thin white curtain.",
)


@dataclass(frozen=True)
class RoomAnswer:
    """picture: pinhole.room.Picture; photograph_s, paper_s: times; lens_m, lens_n: its focus and
    f-number.
    """

    picture: room.Picture
    photograph_s: float
    paper_s: float
    lens_m: float | None
    lens_n: float | None


def answer(cleaned):
    """The RoomAnswer of a cleaned RoomForm."""
    ev100 = light.SKY_BY_NAME[cleaned["sky"]].ev100
    throw_mm = cleaned["throw_m"] * 1000
    picture = room.picture(cleaned["hole_mm"], throw_mm, light.lux_from_ev100(ev100))
    reading = exposure.read_ev(ev100, 100, "")
    sheet = exposure.calculate(
        reading,
        exposure.Specification(
            f_number=picture.f_number, ei=cleaned["ei"], school=reciprocity.NoCorrection()
        ),
    )
    lens_mm = room.lens_throw_mm(cleaned["dioptres"]) if cleaned.get("dioptres") else None
    return RoomAnswer(
        picture=picture,
        photograph_s=room.photograph_s(picture.wall_lux, cleaned["f_number"], cleaned["iso"]),
        paper_s=durations.countable_s(sheet.exact_s),
        lens_m=lens_mm and lens_mm / 1000,
        lens_n=lens_mm and lens_mm / cleaned["hole_mm"],
    )
