from django.contrib import messages
from django.core.paginator import Paginator
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.kit.models import Paper
from chimney.lessons import figures, flows, queries
from chimney.lessons.models import Lesson
from chimney.logbook.models import Sheet
from chimney.parts import fragments


def learned(request):
    pairs, pooled = queries.lessons()
    differ = sum(lesson.speed != lesson.paper.box_ei for lesson, _ in pairs)
    return render(
        request, "lessons/learned.html", {"pairs": pairs, "pooled": pooled, "differ": differ}
    )


def lesson(request, pk):
    """One lesson with every sheet behind it."""
    shown = get_object_or_404(Lesson.objects.select_related("paper", "developer"), pk=pk)
    behind = queries.behind(shown)
    page = {
        "lesson": shown,
        "drawing": figures.course_of(shown, behind[: queries.DRAWN]),
        "processes": queries.by_process(shown),
        "page": Paginator(behind, 40).get_page(request.GET.get("page")),
    }
    return render(request, "lessons/lesson.html", page)


def of_paper(request, pk):
    """The personal EIs of a paper as a fragment for its page."""
    paper = get_object_or_404(Paper, pk=pk)
    found = (
        Lesson.objects.filter(paper=paper)
        .exclude(developer=None)
        .select_related("paper", "developer")
    )
    return fragments.answer(
        request, "lessons/_of_paper.html", {"lessons": found}, f"Your EI for {paper}"
    )


def of_sheet(request, code):
    """What a sheet taught, as a fragment for its page."""
    found = get_object_or_404(Sheet, code=code)
    page = queries.taught_by(found)
    return fragments.answer(request, "lessons/_of_sheet.html", page, f"What {found} taught")


@require_POST
def answer(request, pk):
    lesson = get_object_or_404(Lesson.objects.select_related("paper", "developer"), pk=pk)
    standing = (
        Lesson.Standing.KEPT if request.POST.get("standing") == "kept" else Lesson.Standing.DECLINED
    )
    flows.answer(lesson, standing)
    words = (
        "Plans propose it."
        if standing == Lesson.Standing.KEPT
        else "Plans start from the box EI until it moves."
    )
    messages.success(request, f"{lesson.paper}: {words}")
    return redirect("lessons:learned")
