"""The page of a run: what waits, and what a run begins with."""

from chimney.darkroom.models import Development
from chimney.kit.models import Developer


def of_run(form, waiting):
    """What the page shows: the sheets with whether each is ticked, and what was logged last."""
    if form.is_bound:
        ticked = set(form.data.getlist("sheets"))
    else:
        ticked = {str(getattr(sheet, "pk", sheet)) for sheet in form.initial["sheets"]}
    return {
        "form": form,
        "waiting": [(sheet, str(sheet.pk) in ticked) for sheet in waiting],
        "recent": Development.objects.select_related("sheet", "developer")[:6],
        "developers": Developer.objects.in_use().exists(),
    }


def start_of(waiting, code):
    """The intended developer of the first sheet, or of the one with that code, with all meant for
    the same, as it was used last; else the developer used last.
    """
    wanted = [sheet for sheet in waiting if sheet.code == code] or waiting
    meant = {sheet: sheet.last_exposure.developer_id for sheet in wanted if sheet.last_exposure}
    intended = next(iter(meant.values()), None)
    start = {"sheets": [sheet for sheet in wanted if meant.get(sheet) == intended]}
    runs = Development.objects.filter(developer=intended) if intended else Development.objects.all()
    last, usable = runs.first(), Developer.objects.in_use()
    if last:
        return start | {
            "developer": last.developer_id,
            "parts": last.parts,
            "seconds": last.seconds,
        }
    first = usable.filter(pk=intended).first() or usable.first()
    if first is None:
        return start
    return start | {"developer": first.pk, "parts": first.parts, "seconds": first.usual_s}
