"""The log asked; a year on one page; a notebook to print."""

from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from chimney.lessons.models import KeptSearch
from chimney.lessons.search import flows, queries
from chimney.lessons.search.forms import KeepForm, SearchForm
from chimney.logbook.queries import page_of

A_PAGE, MOST_IN_A_NOTEBOOK, MOST_IN_A_YEAR = 40, 400, 400


def search(request):
    """Plain fields in, sheets out."""
    form = SearchForm(request.GET)
    question = form.asked
    query = urlencode({name: request.GET[name] for name in form.fields if request.GET.get(name)})
    page = page_of(queries.such(question), A_PAGE, request.GET.get("page"))
    context = {"form": form, "page": page, "query": query, "more": f"&{query}"}
    context |= {"kept": queries.kept(), "keep": KeepForm(initial={"query": query})}
    context["years"] = queries.years()
    return render(request, "lessons/search.html", context, status=422 if form.errors else 200)


@require_POST
def keep(request):
    """A search kept by a name."""
    form = KeepForm(request.POST)
    if not form.is_valid():
        messages.error(request, "A kept search wants a name.")
        return redirect("lessons:search")
    search_row = flows.keep(**form.cleaned_data)
    messages.success(request, f"The search is kept as {search_row}.")
    return redirect("lessons:search")


@require_POST
def forget(request, pk):
    search_row = get_object_or_404(KeptSearch, pk=pk)
    flows.forget(search_row)
    messages.success(request, f"The search {search_row} is no longer kept.")
    return redirect("lessons:search")


def notebook(request):
    """Page of what a search found, a paragraph a sheet, to print."""
    form = SearchForm(request.GET)
    rows = queries.find(form.asked).select_related("verdict", "development__run__developer")
    context = {"sheets": rows[:MOST_IN_A_NOTEBOOK], "count": rows.count()}
    context |= {"most": MOST_IN_A_NOTEBOOK, "today": timezone.localdate()}
    return render(request, "lessons/notebook.html", context)


def year(request, number):
    """A year on one page: every sheet that has a picture, month by month."""
    if not 1900 <= number <= 9998:
        raise Http404("There is no such year.")
    question = QueryDict(f"since={number}-01-01&until={number}-12-31")
    rows = queries.such(SearchForm(question).asked).order_by("-cut_at")
    newest = queries.titled(rows)[:MOST_IN_A_YEAR]
    page = {"year": number, "sheets": newest, "count": rows.count()}
    return render(request, "lessons/year.html", page | {"most": MOST_IN_A_YEAR})
