"""Lights that are to come back: of a sheet, a kept plan, a view, or any moment before a camera."""

from django.urls import reverse

from chimney.field.again import queries as again
from chimney.field.craft import specification_of
from chimney.field.hours.queries import specify_with
from chimney.field.light.craft import colour_in, lit_at, lit_of_shot
from chimney.field.models import Shot
from chimney.field.returning.craft import Then
from chimney.lessons.proposing import queries as lessons
from chimney.logbook.models import Sheet
from chimney.places.models import View
from pinhole import light


def of_sheet(sheet):
    """The Then of a Sheet's last exposure; None where nobody knows how the sun stood."""
    exposure = again.exposures().filter(sheet=sheet).select_related("place").first()
    opened = exposure and exposure.opening
    if not opened or not exposure.place or not exposure.effective_s:
        return None
    school = exposure.calculation.specification.school
    verdict = getattr(sheet, "verdict", None)
    return Then(
        *(exposure.title, sheet.code, exposure.place, opened.opened_at, exposure.azimuth_deg),
        ev100=exposure.calculation.reading.ev100,
        metered_s=float(school.metered_s(exposure.effective_s)),
        school=school,
        fields=again.again(exposure),
        address=reverse("logbook:sheet", args=[sheet.code]),
        verdict_stops=verdict.stops_more if verdict else 0.0,
        given_s=exposure.effective_s,
        sheet=sheet,
    )


def of_view(view):
    """The Then of the sheet made of a View last, by its shot or its name; None without one."""
    of_shots = Sheet.objects.filter(exposures__taken__shot__view=view)
    alike = {"exposures__place": view.place, "exposures__subject__iexact": view.subject}
    sheets = [*of_shots.order_by("-pk")[:3], *Sheet.objects.filter(**alike).order_by("-pk")[:3]]
    thens = (of_sheet(sheet) for sheet in sheets)
    return next((then for then in thens if then), None)


def of_shot(shot):
    """The Then of a kept Shot at its hour on its day out; None without one."""
    if not shot.outing or not shot.starts_at:
        return None
    lit = lit_of_shot(shot, sky=shot.outing.sky_at(shot.starts_at))
    _, spec = specification_of(shot, lessons.ratings(), lit)
    ev100 = _ev100(lit)
    fields = {"camera": str(shot.camera_id), "paper": str(shot.paper_id), "subject": shot.subject}
    return Then(
        *(shot.subject, "the plan", shot.outing.place, shot.starts_at, shot.azimuth_deg),
        ev100=ev100,
        metered_s=float(spec.metered_s(ev100)),
        school=spec.school,
        fields=fields,
        address=reverse("field:outing", args=[shot.outing_id]),
    )


def of_moment(cleaned):
    """The Then of a cleaned MomentForm."""
    place, looks, camera, paper = (
        cleaned[name] for name in ("place", "azimuth_deg", "camera", "paper")
    )
    sky = light.SKY_BY_NAME[cleaned["sky"]]
    moment = cleaned["stood"].replace(tzinfo=place.tz)
    lit = lit_at(place, moment, looks_deg=looks, sky=sky)
    spec = specify_with(camera, paper, sky.name)(colour=colour_in(paper, lit))
    ev100 = _ev100(lit)
    return Then(
        *(str(place), "that", place, moment, looks),
        ev100=ev100,
        metered_s=float(spec.metered_s(ev100)),
        school=spec.school,
        fields={"camera": str(camera.pk), "paper": str(paper.pk)},
        address=reverse("field:year"),
    )


def _ev100(lit):
    """Exposure value at ISO 100 of a Lit by its sun and its sky."""
    return float(light.scene_ev100(lit.altitude_deg, lit.off_deg, stops_less=lit.stops_less))


def views():
    """[(View, its Then)] of the views of which a sheet was made."""
    rows = ((view, of_view(view)) for view in View.objects.select_related("place"))
    return [(view, then) for view, then in rows if then]


def shot(key):
    """The Shot of that number, or None."""
    return Shot.objects.select_related("outing__place", "camera", "paper").filter(pk=key).first()


def view(key):
    """The View of that number, or None."""
    return View.objects.select_related("place").filter(pk=key).first()
