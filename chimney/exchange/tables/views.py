import csv
import io

from django.http import Http404, HttpResponse, JsonResponse

from chimney.exchange.tables import queries


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
