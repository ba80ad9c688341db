from urllib.parse import urlsplit

from django.contrib import messages
from django.core.paginator import Paginator
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from chimney.kit.models import Paper
from chimney.lessons import craft, flows, queries
from chimney.lessons import page as pages
from chimney.lessons.explained import page as explained
from chimney.lessons.forms import NearestForm, StandingForm
from chimney.lessons.models import Lesson
from chimney.lessons.search import queries as search
from chimney.logbook.models import Sheet
from chimney.parts import fragments

SAID = {
    Lesson.Standing.KEPT: "Plans use it from now on.",
    Lesson.Standing.DECLINED: "No plan uses it, until it moves.",
    Lesson.Standing.NEW: "Plans use it, and it counts as new.",
}


def learned(request):
    """Page of one exposure by all that the log knows."""
    return render(request, "lessons/learned.html", explained.learned(request.GET))


@require_POST
def seen(request):
    """All that was new is new no more."""
    flows.see_all()
    return redirect("lessons:learned")


def _back(request):
    """To the page that a switch stood on."""
    before = urlsplit(request.headers.get("Referer", ""))
    asked = before.query if before.path == reverse("lessons:learned") else ""
    return redirect(f"{reverse('lessons:learned')}{'?' if asked else ''}{asked}")


def lesson(request, pk):
    """One lesson with every sheet behind it."""
    lesson_row = get_object_or_404(queries.of_pairs(), pk=pk)
    listed = Paginator(queries.behind(lesson_row), queries.DRAWN).get_page(request.GET.get("page"))
    page = pages.of_lesson(lesson_row, listed) | {"processes": queries.by_process(lesson_row)}
    return render(request, "lessons/lesson.html", page)


def nearest(request):
    """The nearest earlier sheets of a plan, as a fragment for its page."""
    form = NearestForm(request.GET)
    asked = form.cleaned_data if form.is_valid() else None
    rows = search.nearest(asked["paper"], asked["camera"], asked["seconds"]) if asked else []
    context = {"found": [(sheet, verdict) for sheet, verdict, _ in rows]}
    if rows:
        context["parting"] = craft.parting(
            rows[0][2], asked["camera"], asked["metered_s"], asked["exact_s"]
        )
    return fragments.answer(request, "lessons/_nearest.html", context, "Sheets like it")


@require_POST
def answer_finding(request, pk):
    """A finding kept in the plans, left out of them, or left to wait."""
    finding = get_object_or_404(queries.findings(), pk=pk)
    form = StandingForm(request.POST)
    if form.is_valid():
        flows.answer_finding(finding, form.cleaned_data["standing"])
        messages.success(request, SAID[form.cleaned_data["standing"]])
    return _back(request)


def of_paper(request, pk):
    """The personal EIs of a paper as a fragment for its page."""
    paper = get_object_or_404(Paper, pk=pk)
    rows = queries.of_paper(paper)
    return fragments.answer(
        request, "lessons/_of_paper.html", {"lessons": rows}, f"Your EI for {paper}"
    )


def of_sheet(request, code):
    """Fragment of what a sheet taught, for its page."""
    sheet = get_object_or_404(Sheet, code=code)
    page = queries.taught_by(sheet)
    return fragments.answer(request, "lessons/_of_sheet.html", page, f"What {sheet} taught")


@require_POST
def answer(request, pk):
    lesson = get_object_or_404(queries.of_pairs(), pk=pk)
    standing = (
        Lesson.Standing.KEPT if request.POST.get("standing") == "kept" else Lesson.Standing.DECLINED
    )
    flows.answer(lesson, standing)
    message = (
        "plans use it."
        if standing == Lesson.Standing.KEPT
        else "plans start from the box EI until it moves."
    )
    messages.success(request, f"{lesson.paper}: {message}")
    return _back(request)
