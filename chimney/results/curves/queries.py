"""Queries of what the judged scans of a paper have taught."""

from chimney.results.curves import craft
from chimney.results.models import PaperTones, Scan, Verdict

# So many of the newest sheets teach, and fewer than the least teach nothing.
MOST_TEACHING, LEAST_TEACHING = 24, 3


def known_of(paper):
    """The craft's Known of a paper, None before it has any."""
    row = PaperTones.objects.filter(paper=paper).first()
    return craft.from_data(row.data, row.sheets) if row else None


def exposure_of(scan):
    """The Exposure by whose camera a Scan is read, or None."""
    return scan.sheet.exposures.select_related("camera").first()


def teaching(paper):
    """[(Scan, stops that its sheet needed more)] of the newest sheets of a paper that were judged
    by eye and have a scan.
    """
    rows = Verdict.objects.filter(sheet__paper=paper, left_out=False).exclude(
        source=Verdict.Source.SCAN
    )
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
