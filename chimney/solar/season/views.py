"""The weeks of a year for a can: what each would draw."""

from datetime import timedelta

from django.shortcuts import render

from chimney.parts.refusal import Refused
from chimney.places import craft as places
from chimney.solar import craft
from chimney.solar.planner import page as planner
from chimney.solar.season.figures import WEEK, WEEKS, Season

LONGEST_SPAN = 731


def season(request):
    """A strip of small pictures, one a week from today on; each leads to the planner."""
    page = planner.read(request.GET)
    cleaned, span = page.form.cleaned_data, _span(page)
    first = places.today(cleaned["place"])
    last = first + timedelta(days=WEEK * (WEEKS - 1) + span - 1)
    pictures = Season(_over(page.prediction, first, last, cleaned), span)
    rows = [
        (*row, page.address(first_day=row[0].isoformat(), last_day=row[1].isoformat()))
        for row in pictures.rows
    ]
    context = {"page": page, "rows": rows, "span": span, "address": page.address()}
    return render(request, "solar/season.html", context)


def _span(page):
    """Days that the can stays out. Raises Refused where the planner has none, or too many."""
    if page.prediction is None:
        raise Refused("Something is missing or wrong on the planner.", "Back to it", "solar:plan")
    cleaned = page.form.cleaned_data
    span = (cleaned["last_day"] - cleaned["first_day"]).days + 1
    if span > LONGEST_SPAN:
        refusal = "A span of more than two years is much the same in every week."
        raise Refused(refusal, "Back to the planner", "solar:plan")
    return span


def _over(prediction, first, last, cleaned):
    """The same can over other days."""
    return craft.predict(
        *(prediction.place, prediction.camera, prediction.pointing, first, last),
        skyline=prediction.skyline,
        minutes=planner.minutes_of(cleaned),
        weather=cleaned["climate"],
    )
