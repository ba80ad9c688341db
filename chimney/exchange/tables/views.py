import csv
import io

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from chimney.exchange import page
from chimney.exchange.tables import flows, queries
from chimney.exchange.tables.forms import MapForm
from chimney.exchange.whole.forms import BringForm
from chimney.parts.scales import counted


def table(request, name):
    """A table of the log as CSV (RFC 4180)."""
    if name not in queries.MODELS:
        raise Http404("There is no such table.")
    # A mark by which spreadsheets know how letters are written.
    out = io.StringIO("\ufeff")
    out.seek(0, io.SEEK_END)
    csv.writer(out).writerows(queries.rows(name))
    answer = HttpResponse(out.getvalue(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="chimney-{name}.csv"'
    return answer


def places_on_a_map(request):
    answer = JsonResponse(queries.features(), content_type="application/geo+json")
    answer["Content-Disposition"] = 'attachment; filename="chimney-places.geojson"'
    return answer


@require_POST
def bring_places(request):
    """Places, views and cans of a GeoJSON; what is here stays."""
    form = MapForm(request.POST, request.FILES)
    try:
        came, left = flows.bring_map(form.cleaned_data["places"]) if form.is_valid() else (0, [])
    except forms.ValidationError as error:
        form.add_error("places", error)
    if form.errors:
        return page.data(request, BringForm(), status=422, map_form=form)
    many = counted(came, "place, view or can", "places, views and cans")
    messages.success(request, f"{many[0].upper()}{many[1:]} came in.")
    for line in left[:5]:
        messages.warning(request, line)
    return redirect("exchange:data")
