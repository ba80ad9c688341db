"""Forms and shots as the craft knows them: a specification, its calculation, its planned sheets,
its light to come.
"""

from dataclasses import dataclass

import numpy as np

from chimney.field.light.craft import NOBODY_KNOWS, by_photo, colour_in
from chimney.field.models import Shot
from chimney.kit.catalogue.papers import FILTERS
from chimney.lessons.proposing.queries import Proposal, choose
from chimney.parts import readings
from chimney.parts.scales import stops as say_stops
from pinhole import exposure, light, optics, reciprocity
from pinhole.exposure import brackets


@dataclass(frozen=True)
class Arrangement:
    """Sheets that a shot is made on: kind is one of Shot.Sheets; apart_stops and by, one of
    Shot.By, between the sheets of a bracket, apart_stops and bands on a test strip.
    """

    kind: str
    apart_stops: float
    by: str
    bands: int


@dataclass(frozen=True)
class PlannedSheet:
    """One sheet of a plan: what makes it differ, its calculation, the seconds, a strip's bands."""

    words: str
    calculation: exposure.Calculation
    seconds: float
    bands: tuple = ()


@dataclass(frozen=True)
class Plan:
    """A plan worked out: its calculation, the proposal it used, what the other schools make of the
    same light, its sheets; scene: what darkest and brightest say; felt: whether a feeling overruled
    the calculation.
    """

    calculation: exposure.Calculation
    proposal: Proposal
    schools: list
    sheets: tuple
    scene: brackets.Scene | None = None
    felt: bool = False


def specification(
    camera,
    paper,
    proposal,
    *,
    school="",
    filter_stops=None,
    filter_sd_stops=0.0,
    compensation_stops=None,
    preflash_stops=None,
    colour=(0.0, 0.0),
    seen=("", False),
    aperture=None,
    reading=None,
):
    """The craft's Specification of a camera, a paper and the EI it is rated at; the paper's own
    school if none is named; seen: what the eye called the sky, and whether that is all there is;
    reading: at whose time it is asked how sure one's own sheets are, else at the usual one.

    Every time that the site shows of a plan, a day, a card or a pocket sheet comes from one of
    these.
    """
    named = paper.schools.get(school) or paper.schools[paper.school]
    if proposal.school and school in ("", paper.school):
        # Learned together with the EI: one without the other says nothing.
        named = proposal.school
    asked = {"low_sun": abs(colour[0]) >= light.LEAST_COLOUR_STOPS, "seen": seen}
    asked |= {"filter_stops": filter_stops or 0.0}
    if reading:
        to_box = optics.meter_factor(camera.f_number_at(aperture), reading.f_number) / paper.box_ei
        asked["metered_s"] = reading.seconds * reading.iso * to_box * 2.0 ** asked["filter_stops"]
    ei_sd_stops, hole_sd_stops = proposal.doubts(camera, **asked)
    return exposure.Specification(
        f_number=camera.f_number_at(aperture),
        hole_sd_stops=hole_sd_stops,
        ei=proposal.ei,
        ei_sd_stops=ei_sd_stops,
        school=named,
        learned=proposal.learned_stops(camera, **asked),
        filter_stops=filter_stops or 0.0,
        filter_sd_stops=filter_sd_stops,
        compensation_stops=compensation_stops or 0.0,
        preflash_stops=preflash_stops or 0.0,
        colour_stops=colour[0],
        colour_sd_stops=colour[1],
    )


def proposal_of(shot, ratings):
    """The Proposal that a Shot is rated by; ratings: the lessons' Ratings."""
    return choose(shot.ei_from, shot.ei, *ratings.offered(shot.paper, shot.developer_id))


def specification_of(shot, ratings, lit=None):
    """(Proposal, Specification) of a Shot; ratings: the lessons' Ratings; lit: how its scene is
    lit, whose colour is left out where nobody knows.
    """
    proposal = proposal_of(shot, ratings)
    return proposal, specification(
        shot.camera,
        shot.paper,
        proposal,
        school=shot.school,
        filter_stops=filter_stops_of(shot),
        compensation_stops=shot.compensation_stops + (shot.reading.get("scene_stops") or 0.0),
        preflash_stops=shot.preflash_stops,
        filter_sd_stops=filter_sd(shot.reading.get("filter_name")),
        colour=(0.0, 0.0)
        if lit is None or shot.reading.get("plain_light")
        else colour_in(shot.paper, lit),
        seen=_seen(shot.reading),
        aperture=shot.aperture,
    )


def filter_stops_of(shot):
    """Stops that a Shot's filter takes: one by name those of its paper's light, whatever paper it
    was first meant for.
    """
    takes = FILTERS.get(shot.reading.get("filter_name"), {}).get(shot.paper.sees)
    return shot.filter_stops if takes is None else takes


def filter_sd(name):
    """Doubt of a filter's stops, which are common practice for one by name [stops]."""
    return exposure.FILTER_SD_STOPS if name else 0.0


def _seen(reading):
    """(what the eye called the sky, whether it did so without a meter)."""
    by_eye = reading.get("kind") == "sky"
    return reading.get("sky" if by_eye else "seen") or "", by_eye


def arrangement_of(shot):
    return Arrangement(shot.sheets, shot.bracket_stops, shot.bracket_by, shot.bands)


def make_plan(cleaned, offered, lit=NOBODY_KNOWS):
    """The Plan of a cleaned PlanForm. offered: (learned or None, box) Proposals; lit: how its scene
    is lit.

    Raises ValueError where its sheets cannot be told apart.
    """
    paper, arrangement = cleaned["paper"], _arrangement(cleaned)
    proposal = choose(cleaned["ei_from"], cleaned.get("ei"), *offered)
    calculation = _calculation(cleaned, proposal, lit)
    beside = exposure.schools_beside(calculation, paper.schools.values())
    sheets = planned_sheets(calculation, paper, cleaned["camera"].geometry, arrangement)
    return Plan(
        calculation, proposal, beside, tuple(sheets), _scene(cleaned), bool(_felt_s(cleaned))
    )


def in_camera_s(plan, cleaned, camera, lit):
    """Seconds after reciprocity of one plain sheet in another camera, in the light of a Plan."""
    there = cleaned | {"camera": camera, "aperture": None}
    return _calculation(there, plan.proposal, lit).exact_s


def _calculation(cleaned, proposal, lit):
    """The Calculation of a cleaned PlanForm."""
    camera, paper = cleaned["camera"], cleaned["paper"]
    reading = readings.read(cleaned, altitude_deg=lit.altitude_deg, off_deg=lit.off_deg)
    reading = by_photo(reading, cleaned.get("by_photo"))
    spec = specification(
        camera,
        paper,
        proposal,
        school=cleaned["school"],
        filter_stops=cleaned.get("filter_stops"),
        filter_sd_stops=filter_sd(cleaned.get("filter_name")),
        compensation_stops=(cleaned.get("compensation_stops") or 0.0) + scene_stops(cleaned),
        preflash_stops=cleaned.get("preflash_stops"),
        colour=(0.0, 0.0) if cleaned.get("plain_light") else colour_in(paper, lit),
        seen=_seen(cleaned),
        aperture=cleaned.get("aperture"),
        reading=reading,
    )
    calculation = exposure.calculate(reading, spec)
    if not _felt_s(cleaned):
        return calculation
    # A feeling overrules the calculation, and is kept as what it is: stops given on purpose.
    stops = exposure.effect_stops(calculation, _felt_s(cleaned))
    return exposure.recalculate(calculation, stops=stops)


def _felt_s(cleaned):
    return cleaned.get("felt_s") if cleaned["kind"] == "sky" else None


def _arrangement(cleaned):
    kind = cleaned.get("sheets") or Shot.Sheets.SINGLE
    by = cleaned.get("bracket_by") or Shot.By.EFFECT
    return Arrangement(kind, cleaned.get("bracket_stops") or 1.0, by, cleaned.get("bands") or 5)


def scene_stops(cleaned):
    """Stops that darkest and brightest of a cleaned PlanForm ask for against the middle [stops]."""
    scene = _scene(cleaned)
    return scene.rate_stops if scene else 0.0


def _scene(cleaned):
    """Scene by its darkest and brightest, against the paper; None with fewer than two readings."""
    ends = [cleaned.get("darkest"), cleaned.get("brightest")]
    if not all(ends):
        return None
    evs = [-np.log2(readings.read_one(cleaned, end).seconds) for end in ends]
    return brackets.scene(evs, cleaned["paper"].range_stops, cleaned.get("hold") or "middle")


@dataclass(frozen=True)
class Variant:
    """Difference of one sheet of an arrangement from its plan: by a school, by stops of effect, or
    by stops of the clock.
    """

    words: str = ""
    school: object = None
    stops: float = 0.0
    clock_stops: float = 0.0


def variants(arrangement, school, paper):
    """The Variants of an arrangement in the order in which they are exposed, the middle of a
    bracket first.
    """
    kind, apart = arrangement.kind, arrangement.apart_stops
    if kind == Shot.Sheets.BRACKET and apart:
        return [_of_bracket(stops, arrangement.by) for stops in (0, -apart, apart)]
    if kind == Shot.Sheets.SCHOOLS:
        labels = ("as if no reciprocity", "with reciprocity")
        pair = zip(labels, pair_of_schools(school, paper), strict=True)
        return [Variant(label, school=one) for label, one in pair]
    if kind == Shot.Sheets.STRIP:
        # The hole closes after its last band.
        last = float(brackets.centred_stops(arrangement.bands, apart)[-1])
        return [Variant(f"test strip of {arrangement.bands} bands", stops=last)]
    return [Variant()]


def _of_bracket(stops, by):
    if not stops:
        return Variant("middle")
    if by == Shot.By.CLOCK:
        return Variant(f"{say_stops(stops)} on the clock", clock_stops=stops)
    return Variant(f"{say_stops(stops)} of effect", stops=stops)


def pair_of_schools(chosen, paper):
    """No correction, and the school that corrects: the chosen one if it does, else the last of the
    paper's that does: its table before its power law.
    """
    correcting = [school for school in paper.schools.values() if school.corrects]
    return reciprocity.NoCorrection(), chosen if chosen.corrects else correcting[-1]


def planned_sheets(calculation, paper, back, arrangement):
    """The PlannedSheets of a calculation, the middle of a bracket first."""
    bands = ()
    if arrangement.kind == Shot.Sheets.STRIP:
        bands = brackets.test_strip(
            calculation, back, bands=arrangement.bands, step_stops=arrangement.apart_stops
        )
    sheets = []
    for variant in variants(arrangement, calculation.school, paper):
        difference = _told(calculation, variant)
        seconds = bands[-1].pull_s if bands else difference.seconds
        sheets.append(PlannedSheet(variant.words, difference, seconds, bands))
    return sheets


def _told(calculation, variant):
    if variant.school:
        return exposure.recalculate(calculation, school=variant.school)
    stops = variant.clock_stops or variant.stops
    return brackets.bracket(calculation, [stops], on_clock=bool(variant.clock_stops))[0]


def meter_setting(meter, f_number, ei):
    """(iso to set, factor) for a meter of the kit, before a camera of that f-number."""
    return exposure.meter_setting(
        ei, f_number, lowest_iso=meter.lowest_iso, last_f_number=meter.last_f_number
    )
