from django.http import HttpResponse
from django.shortcuts import render
from django.utils.html import escape


def answer(request, fragment, context, heading):
    """A fragment for htmx; without script the same fragment inside a page."""
    if request.htmx:
        return render(request, fragment, context)
    return render(
        request, "parts/fragment_page.html", {**context, "fragment": fragment, "heading": heading}
    )


def refused(form):
    """Faults of a form that has no field to stand beside, as a fragment."""
    sentences = " ".join(error for errors in form.errors.values() for error in errors)
    return HttpResponse(f'<p class="field-error">{escape(sentences)}</p>', status=422)
