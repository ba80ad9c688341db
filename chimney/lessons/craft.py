"""Calls of lessons to the craft, for one judged sheet and for a whole log."""

import math

from chimney.parts.calculation import OWN_SHEETS
from pinhole import exposure as craft
from pinhole import lessons as teaching
from pinhole import light, optics
from pinhole.exposure.readings import METER_SD_STOPS

# Light whose colour asked for more than this had a low sun; skies that send no shadow are cloud.
LOW_SUN, CLOUD = "low sun", "cloud"
CLOUDY = ("bright", "grey", "heavy")
# How far a word for the light may lie from what people mean by it [stops] (common practice).
EYE_PRIOR_SD = 0.7
SKY_OF = {sky.words.partition(",")[0]: sky.name for sky in light.SKIES}


def said(exposure, paper, stops_more):
    """The columns of an Evidence: the EI that would have been right, seconds at the box EI before
    reciprocity, those that would have been right, and the light.
    """
    calculation, given_s = exposure.calculation, exposure.effective_s
    spec, reading = calculation.specification, calculation.reading
    stops = craft.stops_more_than_box(calculation, given_s, stops_more, paper.box_ei)
    log2_ei, school = math.log2(paper.box_ei) - stops, calculation.school
    anew = measured_anew(exposure)
    metered_s, log2_ei = metered_at_box_s(calculation, paper) * anew, log2_ei + math.log2(anew)
    needed_s = school.adjusted_s(school.metered_s(given_s) * 2.0**stops_more)
    if any(name == OWN_SHEETS for name, *_ in spec.learned):
        # Whatever the log knew when it was planned, the sheet says the same.
        plain_school = paper.schools[paper.school]
        log2_ei = math.log2(teaching.fitting_ei(needed_s, metered_s * paper.box_ei, plain_school))
    return {
        "log2_ei": log2_ei,
        "metered_s": metered_s,
        "needed_s": needed_s,
        "sky": sky_of(reading),
        "eye_stops": reading.eye_stops,
        "light": light_in(calculation),
        "filter_stops": spec.filter_stops,
    }


def measured_anew(exposure):
    """Factor on the metered time by its camera as it is measured today: it was that hole then; 1
    for a lens, and for a hole that is no more.
    """
    camera = exposure.camera
    if camera.is_lens or (camera.renewed_at and exposure.made_at < camera.renewed_at):
        return 1.0
    then = exposure.calculation.specification.f_number
    return optics.meter_factor(camera.f_number, then)


def metered_at_box_s(calculation, paper):
    """Seconds at the box EI before reciprocity and before anything that was learned or tried."""
    spec = calculation.specification
    factor = 2.0 ** (spec.trial_stops + sum(stops for _, stops, _ in spec.learned))
    return calculation.metered_s * spec.ei / paper.box_ei / factor


# A plan and the verdict of the sheet nearest to it part when they differ by more [stops].
PARTING_STOPS = 0.5


def parting(evidence, camera, metered_s, exact_s):
    """(seconds by that sheet alone, stops more than the plan has) where they part, else None; of
    another camera's sheet nothing is said.

    evidence: of the sheet; metered_s, exact_s: of the plan, at the box EI and worked out.
    """
    if not (camera and metered_s and exact_s and evidence.metered_s):
        return None
    if evidence.camera_id != camera.pk:
        return None
    by_it_s = metered_s * evidence.needed_s / evidence.metered_s
    stops = math.log2(by_it_s / exact_s)
    return (by_it_s, stops) if abs(stops) > PARTING_STOPS else None


def sky_of(reading):
    """Name that the eye gave to the sky of a Reading, alone or beside the meter; nothing for two at
    once.
    """
    by_eye = reading.kind == "sky"
    return SKY_OF.get(reading.said.partition(",")[0], "") if by_eye else reading.seen


def light_of(sky, low_sun):
    """The kind of light that the model of the log knows: a low sun, cloud, or "" for any other."""
    return LOW_SUN if low_sun else CLOUD if sky in CLOUDY else ""


def light_in(calculation):
    """The same of the light that a Calculation was read in."""
    low_sun = abs(calculation.specification.colour_stops) >= light.LEAST_COLOUR_STOPS
    return light_of(sky_of(calculation.reading), low_sun)


def eye_findings(judged_by_eye, log, judgement_sd):
    """{("eye", sky): (columns, Share)}: how many stops more than its word says such light needed,
    by the meter that was read beside it, else by sheets whose paper, camera and developer are
    known.
    """
    evidence_by_name = {}
    for evidence in judged_by_eye:
        error_stops, sd = _off_by_eye(evidence, log, judgement_sd)
        evidence_by_name.setdefault(evidence.sky, []).append(
            (error_stops, math.hypot(sd, light.SKY_BY_NAME[evidence.sky].sd_stops))
        )
    findings = {}
    for sky, rows in evidence_by_name.items():
        mean, sd = teaching.pooled(*zip(*rows, strict=True), prior_sd=EYE_PRIOR_SD)
        is_clear = abs(mean) > max(teaching.CENTRAL_90 * sd, teaching.least_of("eye"))
        share = teaching.Share("eye", sky, mean, sd, len(rows))
        findings["eye", sky] = {"is_clear": is_clear}, share
    return findings


def _off_by_eye(evidence, log, judgement_sd):
    """(stops more than its word says, how sure that is)."""
    if evidence.eye_stops is not None:
        return evidence.eye_stops, METER_SD_STOPS
    paper = evidence.paper
    keys = {"paper": paper.pk, "pair": (paper.pk, evidence.developer_id)}
    keys |= {"camera": evidence.camera_id, "box": log.boxes.get(paper.pk)}
    names = log.learned.exposure(keys, evidence.metered_s)
    expected_stops, sd = log.learned.stops(names)
    school_s = paper.schools[paper.school].adjusted_s(evidence.metered_s)
    return math.log2(evidence.needed_s / school_s) - expected_stops, math.hypot(sd, judgement_sd)


def own_exponent(paper):
    """The exponent of a paper's own school, None for a table, which has none."""
    if paper.school == "table":
        return None
    return 1.0 if paper.school == "none" else paper.exponent
