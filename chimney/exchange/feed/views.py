from django.core.cache import cache
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from chimney.exchange.feed import files, flows, queries
from chimney.exchange.feed.forms import SensorForm
from chimney.exchange.models import FeedToken
from chimney.parts import clock, downloads, plain_json
from chimney.parts.middleware import address

# No meter needs to speak more often; more is told to wait.
MOST_A_SECOND = 5


@csrf_exempt
@require_POST
def light(request):
    """Take a message of a sensor, with its token; the answer says what was understood."""
    if _floods(request):
        answer = JsonResponse({"error": "Too often: once a second is plenty."}, status=429)
        answer["Retry-After"] = "1"
        return answer
    token = queries.known(request.headers.get("Authorization", "").removeprefix("Bearer ").strip())
    if token is None:
        return JsonResponse({"error": "That token is wrong, or was withdrawn."}, status=401)
    form = SensorForm(_said(request))
    if not form.is_valid():
        return JsonResponse({"error": next(iter(form.errors.values()))[0]}, status=422)
    flows.say(token, form.cleaned_data["ev100"])
    return JsonResponse({"ev100": round(form.cleaned_data["ev100"], 2)})


def _floods(request):
    """Counted in this process by address and second, before anything else is done."""
    key = f"feed-{address(request)}-{int(clock.now().timestamp())}"
    cache.add(key, 0, timeout=5)
    return cache.incr(key) > MOST_A_SECOND


def _said(request):
    """The fields of a body that is JSON, or a form."""
    if request.content_type != "application/json":
        return request.POST
    try:
        message = plain_json.loads(request.body)
    except ValueError:
        return {}
    return {k: str(v) for k, v in message.items()} if isinstance(message, dict) else {}


def calendar(request, secret):
    """Events to come, for a calendar that knows the address."""
    if _floods(request):
        return HttpResponse("Too often.", status=429, headers={"Retry-After": "1"})
    if queries.known(secret, FeedToken.To.CALENDAR) is None:
        raise Http404("That address is wrong, or was withdrawn.")
    return downloads.calendar(files.calendar(), "chimney.ics")


def light_now(request):
    """The light by the newest sensor, for the plan page."""
    reading, waited_for = queries.light_now()
    context = {"light": reading, "waited_for": waited_for}
    return render(request, "exchange/_light_now.html", context)


@require_POST
def put_out(request, pk):
    flows.put_out(get_object_or_404(FeedToken, pk=pk))
    return redirect("exchange:data")
