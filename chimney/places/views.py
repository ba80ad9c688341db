from django.contrib import messages
from django.core.exceptions import ValidationError
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.dateparse import parse_date
from django.views.decorators.http import require_POST

from chimney.parts import undo
from chimney.places import figures, flows, gazetteer
from chimney.places.forms import PlaceForm, ViewForm
from chimney.places.models import Place, View


def places(request):
    """Every place with its sun today, and the views one comes back to."""
    found = Place.objects.prefetch_related("views")
    return render(
        request,
        "places/places.html",
        {"places": [(one, flows.sun_day(one, flows.today(one))) for one in found]},
    )


def place(request, pk=None):
    """A place: found by name, or typed; its sun on any day."""
    kept = get_object_or_404(Place, pk=pk) if pk else None
    if request.htmx and "find" in request.GET:
        return render(
            request,
            "places/_found.html",
            {"found": gazetteer.find(request.GET["find"]), "asked": True},
        )
    form = PlaceForm(
        request.POST or None, instance=kept, initial=None if kept else request.GET.dict()
    )
    saved = _kept(form) if request.method == "POST" and form.is_valid() else None
    if saved:
        messages.success(request, f"{saved} is kept, on the clock of {saved.zone}.")
        return redirect("places:place", saved.pk)
    # A wrong form has changed the instance in memory: the page speaks of the place as it is kept.
    kept = kept and Place.objects.filter(pk=pk).first()
    page = {"form": form, "place": kept, "view_form": ViewForm()}
    if "find" in request.GET:
        page |= {
            "found": gazetteer.find(request.GET["find"]),
            "asked": True,
            "find": request.GET["find"],
        }
    if kept:
        day = _day(request.GET.get("day")) or flows.today(kept)
        sun_day = flows.sun_day(kept, day)
        page |= {
            "hours": flows.hours(kept, day),
            "sun_day": sun_day,
            "drawing": figures.height_of_day(sun_day),
        }
    return render(request, "places/place.html", page, status=422 if form.errors else 200)


def _kept(form):
    """The place of a valid form, or None with the message where somebody took its name
    meanwhile.
    """
    try:
        return flows.keep(form.save(commit=False))
    except ValidationError as error:
        form.add_error("name", error.messages[0])
        return None


def _day(text):
    """A day typed into the address, within the years that the sun is known for; None for anything
    else.
    """
    try:
        found = parse_date(text or "")
    except ValueError:
        return None
    return found if found and 1900 < found.year < 2100 else None


@require_POST
def view(request, pk):
    """One more view to repeat from this place."""
    kept = get_object_or_404(Place, pk=pk)
    return _keep_view(request, View(place=kept), kept)


def edit_view(request, pk):
    found = get_object_or_404(View.objects.select_related("place"), pk=pk)
    if request.method == "POST" and "drop" in request.POST:
        flows.drop_view(found)
        undo.offer(request, f"{found} is dropped.", "places:undrop_view", pk)
        return redirect("places:place", found.place_id)
    return _keep_view(request, found, found.place)


@require_POST
def undrop_view(request, pk):
    found = get_object_or_404(View.everything.select_related("place"), pk=pk)
    flows.undrop_view(found)
    messages.success(request, f"{found} is back.")
    return redirect("places:place", found.place_id)


def _keep_view(request, found, kept):
    form = ViewForm(request.POST or None, instance=found)
    if request.method == "POST" and form.is_valid():
        if "access" in form.changed_data:
            form.instance.access_on = flows.today(kept)
        flows.keep_view(form.save(commit=False))
        messages.success(request, f"{form.instance} is kept.")
        return redirect("places:place", kept.pk)
    view = View.objects.filter(pk=found.pk).first() or View(place=kept)
    page = {"form": form, "view": view, "place": kept}
    return render(request, "places/view.html", page, status=422 if form.errors else 200)
