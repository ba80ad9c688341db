from django.shortcuts import render


def answer(request, fragment, context, heading):
    """A fragment for htmx; without script the same fragment inside a page."""
    if request.htmx:
        return render(request, fragment, context)
    return render(
        request, "parts/fragment_page.html", {**context, "fragment": fragment, "heading": heading}
    )
