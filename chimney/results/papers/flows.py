"""Learning a paper's curve from its judged scans, and from those that lie beside a photo."""

from chimney.ledger.once import afterwards, setting
from chimney.results.curves import craft, queries
from chimney.results.models import PaperTones, Preview, Verdict
from chimney.results.scans import craft as scans


def sheet_changed(sender, sheet, **kwargs):
    """A sheet was judged or scanned: its paper learns once it is written down, if it is both."""
    is_both = sheet.scans.exists() and Verdict.objects.filter(sheet=sheet).exists()
    # One that is no more may have taught before.
    if is_both or PaperTones.objects.filter(paper=sheet.paper_id).exists():
        afterwards(learn, sheet.paper)


def learn(paper):
    """The curve of a paper anew, by the newest of its judged scans."""
    judged_scans, lit = queries.teaching(paper), queries.lit(paper)
    # Known light says of one sheet what an eye says of several.
    if len(judged_scans) < queries.LEAST_TEACHING:
        judged_scans = []
    if not (judged_scans or lit):
        return _keep(paper, None, 0)
    toned = [(_tones(scan, paper), needed) for scan, needed in judged_scans]
    known = craft.learned_curve(toned, lit, craft.curve_of(paper), paper.kind)
    return _keep(paper, craft.as_data(known), known.sheets)


def lay_beside(scan, data):
    """Keep how a scan lies beside its photo, as data, None for no more; its paper learns of it."""
    if _keep_beside(scan.preview.pk, data):
        learn(scan.sheet.paper)


@setting
def _keep_beside(pk, data):
    """True if that is news."""
    news = Preview.objects.filter(pk=pk).exclude(beside_photo=data)
    if data is None:
        news = Preview.objects.filter(pk=pk, beside_photo__isnull=False)
    return news.update(beside_photo=data)


def _tones(scan, paper):
    """The tones of a scan as data, made once."""
    if scan.preview.tones is None:
        pictured, exposure = scans.Pictured.of(scan), queries.exposure_of(scan)
        less = exposure and scans.fall_off(pictured.inside.shape, exposure)
        is_by_spots = craft.by_spots(exposure)
        tones = craft.tones_data(pictured.tones(paper, less, by_spots=is_by_spots))
        _keep_tones(scan.preview.pk, tones)
        return tones
    return scan.preview.tones


@setting
def _keep_tones(pk, tones):
    Preview.objects.filter(pk=pk).update(tones=tones)


@setting
def _keep(paper, data, sheets):
    if data is None:
        PaperTones.objects.filter(paper=paper).delete()
        return
    PaperTones.objects.update_or_create(paper=paper, defaults={"data": data, "sheets": sheets})
