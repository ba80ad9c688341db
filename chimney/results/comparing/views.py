"""Two to six sheets side by side. Which they are stands in the address."""

from django.shortcuts import render

from chimney.results.comparing import page


def compare(request):
    codes = [code[:20].replace("\0", "") for code in request.GET.getlist("s")]
    compared = page.compare(codes) if codes else []
    context = {"compared": compared, "most": page.MOST_COMPARED}
    context["few"] = len(compared) < page.FEWEST_COMPARED
    context["rows"] = page.differences(compared) if compared else []
    return render(request, "results/compare.html", context)
