"""Sheets side by side: their pictures on one scale, and what differed between them."""

from dataclasses import dataclass

from chimney.darkroom.models import Development
from chimney.logbook import queries
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import scales
from chimney.parts.scales import number
from chimney.results import wording
from chimney.results.models import Scan, Verdict
from pinhole import durations

FEWEST_COMPARED, MOST_COMPARED = 2, 6


@dataclass(frozen=True)
class Compared:
    """sheet; scan: its newest picture, or None; facts: {label: words}."""

    sheet: Sheet
    scan: Scan | None
    facts: dict


def compare(codes):
    """[Compared] of the sheets with those codes, in that order; a few queries however many."""
    rows = Sheet.objects.filter(code__in=codes[:MOST_COMPARED])
    rows = queries.with_thread(rows).prefetch_related("solargraph__events")
    rows = rows.select_related("solargraph__camera", "solargraph__place")
    sheets = {s.code: s for s in rows.defer("solargraph__photo")}
    compared_sheets = [sheets[code] for code in dict.fromkeys(codes) if code in sheets]
    scans = {
        s.sheet_id: s
        for s in reversed(Scan.objects.filter(sheet__in=compared_sheets, state="ready"))
    }
    through = Development.objects.filter(sheet__in=compared_sheets).select_related("run__developer")
    runs = {development.sheet_id: development for development in through}
    verdicts = {v.sheet_id: v for v in Verdict.objects.filter(sheet__in=compared_sheets)}
    exposures = _exposures(compared_sheets)
    return [
        Compared(
            sheet,
            scans.get(sheet.pk),
            _exposed(sheet, exposures.get(sheet.pk))
            | _hung(getattr(sheet, "solargraph", None))
            | _developed(runs.get(sheet.pk))
            | _judged(sheet, verdicts.get(sheet.pk)),
        )
        for sheet in compared_sheets
    ]


def _exposures(sheets):
    newest = {}
    for exposure in queries.whole(Exposure.objects.filter(sheet__in=sheets)):
        newest.setdefault(exposure.sheet_id, exposure)
    return newest


def differences(compared):
    """[(label, [words of each])] of what is not the same on all, in the order of the work."""
    labels = list(dict.fromkeys(label for sheet in compared for label in sheet.facts))
    rows = [(label, [sheet.facts.get(label, "") for sheet in compared]) for label in labels]
    return [(label, values) for label, values in rows if len(set(values)) > 1]


def _exposed(sheet, exposure):
    facts = {"paper": str(sheet.paper), "size": sheet.size}
    if exposure is None:
        return facts
    specification = exposure.calculation.specification
    facts |= {"subject": exposure.title, "camera": str(exposure.camera)}
    facts |= {"reading": exposure.calculation.reading.said, "EI": number(specification.ei)}
    if exposure.given_s:
        facts["free for"] = durations.say(exposure.given_s)
    if specification.preflash_stops is not None:
        facts["pre-flash"] = scales.stops(specification.preflash_stops)
    return facts | ({"note": exposure.note} if exposure.note else {})


def _hung(can):
    """Facts of a can: where it was, which days, and how it stood when its hole was shut."""
    if can is None:
        return {}
    first, last = can.days_of
    stood = can.stands[-1][1]
    facts = {"can": str(can.camera), "spot": ", ".join(filter(None, (can.spot, str(can.place))))}
    facts |= {"days": f"{first:%-d %b %Y} to {last:%-d %b %Y}, {(last - first).days + 1} in all"}
    facts |= {"open": can.get_kind_display(), "direction": f"{number(stood.azimuth_deg)}°"}
    facts |= {"leans back": f"{number(stood.tilt_deg)}°", "roll": f"{number(stood.roll_deg)}°"}
    if can.is_read:
        sds = (number(sd or 0.0, 2) for sd in (can.read_azimuth_sd, can.read_tilt_sd))
        facts["stand known"] = "by its picture, give or take {}° and {}°".format(*sds)
    else:
        facts["stand known"] = "as measured" if can.was_measured else "as planned"
    lines = ("skyline", can.horizon), ("in leaf", can.leaf), ("over it", can.upper)
    for label, points in lines:
        facts[label] = "; ".join(" ".join(map(number, point)) for point in points)
    return facts | {"fixed": "yes" if can.fixed_at else "no"}


def _developed(development):
    if development is None:
        return {}
    run = development.run
    facts = {"process": run.process_name, "developer": f"{run.developer}, {run.dilution}"}
    if development.seconds:
        by_eye = ", by eye" if run.by_eye else ""
        facts["in it for"] = f"{durations.say(development.seconds)}{by_eye}"
    return facts | ({"at": f"{number(run.temperature_c)} °C"} if run.temperature_c else {})


def _judged(sheet, verdict):
    if verdict is None:
        return {}
    judgement = {"verdict": wording.sentence(sheet.paper.kind, verdict.stops_more)}
    faults = ", ".join(fault.words for fault in verdict.found)
    return judgement | ({"faults": faults} if faults else {})
