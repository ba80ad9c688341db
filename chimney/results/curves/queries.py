"""Queries of what the judged scans of a paper have taught."""

from chimney.results.curves import craft
from chimney.results.models import PaperTones, Preview, Scan, Verdict

# So many of the newest sheets teach, and fewer than the least teach nothing.
MOST_TEACHING, LEAST_TEACHING = 24, 3


def known_of(paper):
    """The craft's Known of a paper, None before it has any."""
    row = PaperTones.objects.filter(paper=paper).first()
    return craft.from_data(row.data, row.sheets) if row else None


def own_curve_of(paper):
    """The ToneCurve of a paper as its own sheets draw it, or by its starting numbers."""
    return craft.own_curve(paper, known_of(paper) if paper.pk else None)


def exposure_of(scan):
    """The Exposure by whose camera a Scan is read, or None."""
    return scan.sheet.exposures.select_related("camera").first()


def teaching(paper):
    """[(Scan, stops that its sheet needed more)] of the newest sheets of a paper that were judged
    by eye and have a scan.
    """
    # What is read by a curve does not teach it.
    by_a_curve = (Verdict.Source.SCAN, Verdict.Source.PHOTO)
    rows = Verdict.objects.filter(sheet__paper=paper, left_out=False)
    rows = rows.exclude(source__in=by_a_curve)
    verdicts = {
        verdict.sheet_id: verdict.stops_more
        for verdict in rows.order_by("-pk")[: 2 * MOST_TEACHING]
        if not any(fault.misleads for fault in verdict.found)
    }
    scans = Scan.objects.filter(
        sheet__in=verdicts, state=Scan.State.READY, transmitted=False, preview__isnull=False
    )
    newest = {
        scan.sheet_id: scan
        for scan in scans.select_related("preview", "wedge", "sheet").order_by("pk")
    }
    every = [(scan, verdicts[sheet]) for sheet, scan in newest.items()]
    return sorted(every, key=lambda row: -row[0].sheet_id)[:MOST_TEACHING]


def lit(paper):
    """[the tones beside their light, as data] of the newest sheets of a paper that a photo let one
    foresee, but those that are left out or whose faults mislead.
    """
    unfit = {
        verdict.sheet_id
        for verdict in Verdict.objects.filter(sheet__paper=paper)
        if verdict.left_out or any(fault.misleads for fault in verdict.found)
    }
    newest = _beside_photos(scan__sheet__paper=paper)
    return [newest[sheet] for sheet in sorted(newest.keys() - unfit)[-MOST_TEACHING:]]


def corners_of(camera):
    """[stops that the corners of its sheets got more than their photos let one foresee]."""
    newest = _beside_photos(scan__sheet__exposures__camera=camera)
    return [data["corners"] for data in newest.values() if data["corners"] is not None]


def _beside_photos(**whose):
    """{sheet: how its newest scan lies beside its photo, as data}."""
    rows = Preview.objects.filter(beside_photo__isnull=False, **whose).order_by("scan")
    return dict(rows.values_list("scan__sheet", "beside_photo"))
