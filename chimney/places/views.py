from django.contrib import messages
from django.core.exceptions import ValidationError
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.dateparse import parse_date
from django.views.decorators.http import require_POST

from chimney.ledger.keys import as_kept
from chimney.parts import adding, undo
from chimney.places import craft, figures, files, flows, queries
from chimney.places.forms import PlaceForm, ViewForm
from chimney.places.models import Place, View


def places(request):
    """Every place with its sun today, and the views one comes back to."""
    spots = queries.places()
    return render(
        request,
        "places/places.html",
        {"places": [(place, craft.sun_day(place, craft.today(place))) for place in spots]},
    )


def place(request, pk=None):
    """A place: found by name, or typed; its sun on any day."""
    if request.htmx and "find" in request.GET:
        return render(request, "places/_found.html", _found(request))
    place_row, back = get_object_or_404(Place, pk=pk) if pk else None, adding.way_back(request)
    start = None if place_row else request.GET.dict()
    form = PlaceForm(request.POST or None, instance=place_row, initial=start)
    saved = _kept(form) if request.method == "POST" and form.is_valid() else None
    if saved:
        messages.success(request, f"{saved} is kept, on the clock of {saved.zone}.")
        return adding.lead_back(back, saved, "places:place", saved.pk)
    # A wrong form has changed the instance in memory: the page speaks of the place as it is kept.
    place_row = place_row and as_kept(place_row)
    page = {"form": form, "place": place_row, "back": back, "view_form": ViewForm()}
    page |= _found(request) | _sun_of(place_row, request.GET.get("day"))
    return render(request, "places/place.html", page, status=422 if form.errors else 200)


def _found(request):
    """The towns whose name was asked for; nothing where none was."""
    if "find" not in request.GET:
        return {}
    query = request.GET["find"]
    context = {"found": files.find(query), "asked": True, "find": query}
    return context | {"way_back": adding.as_query(adding.way_back(request))}


def _sun_of(place, typed_day):
    """Context of the sun on that day; nothing for a place that is not kept yet."""
    if place is None:
        return {}
    day = _day(typed_day) or craft.today(place)
    sun_day = craft.sun_day(place, day)
    drawing = figures.height_of_day(sun_day)
    return {"hours": craft.hours(place, day), "sun_day": sun_day, "drawing": drawing}


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
        day = parse_date(text or "")
    except ValueError:
        return None
    return day if day and 1900 < day.year < 2100 else None


@require_POST
def view(request, pk):
    """One more view to repeat from this place."""
    place_row = get_object_or_404(Place, pk=pk)
    return _keep_view(request, View(place=place_row), place_row)


def edit_view(request, pk):
    view = get_object_or_404(queries.views(), pk=pk)
    if request.method == "POST" and "drop" in request.POST:
        flows.drop_view(view)
        undo.offer(request, f"{view} is dropped.", "places:undrop_view", pk)
        return redirect("places:place", view.place_id)
    return _keep_view(request, view, view.place)


@require_POST
def undrop_view(request, pk):
    view = get_object_or_404(View.everything.select_related("place"), pk=pk)
    flows.undrop_view(view)
    messages.success(request, f"{view} is back.")
    return redirect("places:place", view.place_id)


def _keep_view(request, found, saved):
    form = ViewForm(request.POST or None, instance=found)
    if request.method == "POST" and form.is_valid():
        if "access" in form.changed_data:
            form.instance.access_on = craft.today(saved)
        flows.keep_view(form.save(commit=False))
        messages.success(request, f"{form.instance} is kept.")
        return redirect("places:place", saved.pk)
    view = as_kept(found) or View(place=saved)
    page = {"form": form, "view": view, "place": saved}
    return render(request, "places/view.html", page, status=422 if form.errors else 200)
