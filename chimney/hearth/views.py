import sys

from django.conf import settings
from django.contrib.auth import login
from django.http import HttpResponse, HttpResponseRedirect, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST

from chimney import folder
from chimney.darkroom import queries as dark
from chimney.darkroom.running.page import Bench
from chimney.field.outing import queries as days_out
from chimney.field.plan import queries as plans
from chimney.hearth import flows, navigation, wording
from chimney.hearth.begin import views as doors
from chimney.hearth.forms import DoorForm
from chimney.hearth.guests.forms import InviteForm
from chimney.kit import queries as kit_queries
from chimney.kit.models import Camera, Developer, Holder, Paper
from chimney.ledger import devices
from chimney.ledger.models import Device
from chimney.lessons import queries as lessons
from chimney.logbook import queries
from chimney.logbook.models import Sheet
from chimney.logbook.page import Timer
from chimney.logbook.stages import which
from chimney.parts import clock, darkroom_dress, glossary, waiting
from chimney.parts.middleware import troubled
from chimney.places import craft as places
from chimney.places import queries as place_queries
from chimney.solar.cans import queries as cans

SHOWN_SHEETS = 3
LOOKED_AROUND = "looked_around"


def hearth(request):
    """Page of what burns, waits, comes next and was learned last; in an empty house the doors by
    which one begins.
    """
    if settings.DEMO and LOOKED_AROUND not in request.COOKIES | request.GET.dict():
        return _practise_first()
    # The chimney beside the page counts the same.
    counts = navigation.counted(request)
    if not (any(counts.values()) or _any_of_it()):
        return doors.begin(request)
    page = {"counts": {str(stage): count for stage, count in counts.items()}}
    page |= {"first_step": _first_step(counts)} | _burning(counts) | _waiting()
    return render(request, "hearth/hearth.html", page | _ahead(clock.now()))


def _practise_first():
    """The way to a sheet that costs nothing, once for each who comes to look around."""
    response = redirect("field:practice")
    response.set_cookie(LOOKED_AROUND, "1", samesite="Lax", httponly=True)
    return response


def _burning(counts):
    """Timers of open holes and benches of the dark room, and the finding that heads the page."""
    now = clock.now()
    timers = [Timer.of(exposure, now) for exposure in queries.running()]
    wet = [Bench.of(run, now) for run in dark.going()]
    return {
        "finding": wording.headline(len(timers), counts, _due(counts), _by_hand(wet)),
        "today": timezone.localtime(now),
        "timers": timers,
        "wet": wet,
    }


def _any_of_it():
    """True if anything is there that one works with."""
    return kit_queries.any_camera() or queries.any_sheet()


def _first_step(counts):
    """The one thing that is still missing to somebody who has no sheet and no can yet, or None."""
    if any(counts[stage] for stage in which("waits")) or queries.any_sheet() or cans.any_planned():
        return None
    return wording.first_step(_owned())


def _by_hand(wet):
    """Number of sheets in the dark room that want somebody beside them."""
    return sum(len(card.sheets) for bench in wet for card in bench.cards if bench.wants_a_hand)


def _waiting():
    """Sheets that wait for a hand, and the lesson learned last."""
    to_develop, to_read, pictures = queries.newest(
        SHOWN_SHEETS,
        {"stage": Sheet.Stage.EXPOSED},
        {"stage": Sheet.Stage.DEVELOPED},
        {"is_pictured": True},
    )
    return {
        "to_develop": to_develop,
        "to_read": to_read,
        "kept": _kept()[:SHOWN_SHEETS],
        "lesson": lessons.last(),
        "overdue": waiting.overdue(),
        "pictures": pictures,
    }


def _ahead(now):
    """Home, its sun today, and the day out that comes next."""
    home = place_queries.home()
    coming = days_out.outings().filter(day__gte=timezone.localdate(now))
    sun = home and places.sun_day(home, places.today(home))
    return {"home": home, "sun": sun, "outing": coming.last()}


def _kept():
    """Plans kept for later."""
    return plans.kept()


def _due(counts):
    """Number of cans that are out and should be home by now; asked only if one is out."""
    return counts[Sheet.Stage.OUT] and cans.due()


def _owned():
    return {
        model.__name__.lower(): kit_queries.things(model).exists()
        for model in (Camera, Paper, Developer, Holder)
    }


def words(request):
    return render(request, "hearth/words.html", {"words": glossary.GLOSSARY})


def keys(request):
    return render(request, "hearth/keys.html")


def token(request):
    """A fresh token for taps that were kept in a browser longer than its cookie."""
    return JsonResponse({"token": get_token(request)})


@require_POST
def dress(request):
    """Put on the dark-room dress or take it off, and go on where one was."""
    back = request.POST.get("next", "")
    if not url_has_allowed_host_and_scheme(back, allowed_hosts=None):
        back = reverse("hearth:hearth")
    response = HttpResponseRedirect(back)
    darkroom_dress.change(request, response)
    return response


def not_found(request, exception):
    return render(request, "hearth/not_found.html", status=404)


def bad_request(request, exception):
    """Answer to what no browser sends; nothing was read of it."""
    return HttpResponse(
        render_to_string(
            "hearth/broken.html", {"dress": darkroom_dress.worn(request), "status": 400}
        ),
        status=400,
    )


def server_error(request):
    """Page on the fault of the folder, if it has one, else that something broke; asks no
    database.
    """
    trouble = folder.trouble(sys.exc_info()[1])
    if trouble:
        return troubled(request, trouble)
    return HttpResponse(
        render_to_string(
            "hearth/broken.html", {"dress": darkroom_dress.worn(request), "status": 500}
        ),
        status=500,
    )


def csrf_failure(request, reason=""):
    return render(request, "hearth/csrf.html", status=403)


def door(request):
    """The way in from the home network."""
    form = DoorForm(request.POST or None, request=request)
    if request.method == "POST" and form.is_valid():
        login(request, form.user)
        devices.let_in(request)
        return redirect("hearth:hearth")
    if getattr(request, "axes_locked_out", False):
        return render(request, "hearth/locked.html", status=429)
    return render(request, "hearth/door.html", {"form": form}, status=422 if form.errors else 200)


def devices_page(request):
    """Page of the devices that were let in, this one among them."""
    entries = [
        (device, device.session_key == request.session.session_key) for device in devices.known()
    ]
    page = {"devices": entries, "form": InviteForm(), "invited": flows.guests_are_invited()}
    return render(request, "hearth/devices.html", page)


@require_POST
def call_device(request, pk):
    """Say whose phone a device is."""
    devices.call(get_object_or_404(Device, pk=pk), request.POST.get("name", ""))
    return redirect("hearth:devices")


@require_POST
def put_out(request, pk):
    """End the session of a device, be it this one."""
    devices.put_out(get_object_or_404(Device, pk=pk))
    return redirect("hearth:devices")


@require_POST
def leave(request):
    """Sign out on this device."""
    devices.leave(request)
    return redirect("hearth:hearth")
