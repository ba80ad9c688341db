"""Today's light at each view, its one line for the Hearth, and a forecast brought in."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from chimney.field.today import flows, page
from chimney.field.today.forms import CloudsForm, TodayForm


def today(request, clouds_form=None):
    """The page of when the hole may be opened at each view, today and this week."""
    form = TodayForm(request.GET if "sky" in request.GET else {"sky": page.usual_sky()})
    rows = page.views_today(form.cleaned_data["sky"]) if form.is_valid() else []
    context = {"rows": rows, "form": form, "clouds_form": clouds_form or CloudsForm()}
    wrong = clouds_form is not None or not form.is_valid()
    return render(request, "field/today.html", context, status=422 if wrong else 200)


def line(request):
    """The first of these lines, for the Hearth."""
    rows = page.views_today(page.usual_sky())
    return render(request, "field/_today_line.html", {"row": next(iter(rows), None)})


@require_POST
def forecast(request):
    """Bring in cloud by the hour for a place."""
    form = CloudsForm(request.POST, request.FILES)
    if not form.is_valid():
        return today(request, form)
    place, clouds = form.cleaned_data["place"], form.cleaned_data["clouds"]
    flows.keep_clouds(place, clouds)
    messages.success(request, f"{len(clouds)} hours of cloud are kept for {place}.")
    return redirect("field:today")
