from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.ledger.keys import row_key
from chimney.logbook import flows, queries
from chimney.logbook.flows import corrections, while_open
from chimney.logbook.forms import (
    GiveUpForm,
    LoadForm,
    NoteForm,
    OwnerForm,
    PurposeForm,
    RereadForm,
    SlipForm,
)
from chimney.logbook.models import Photo, Sheet
from chimney.logbook.page import Timer
from chimney.parts import adding, clock, fragments, undo
from chimney.parts.taps import tapped_at

# No class opens more cameras.
MOST_AT_ONCE = 200


def bag(request):
    """Page of the bag: what is in it, what burns, and loading one more sheet."""
    holders = queries.bag()
    sides = [side for _, members in holders for side in members]
    start = _usual_load(sides, _put_back(request)) | adding.begun(request, ("sides",))
    form = LoadForm(request.POST or None, sides=sides, initial=start)
    if request.method == "POST" and form.is_valid():
        lie = "; ".join(f"{loading.sheet} in {loading.where}" for loading in form.load())
        messages.success(request, f"Pencil on the backs, top edge: {lie}.")
        return redirect("logbook:bag")
    page = {"form": form} | _lying(holders, sides)
    return render(request, "logbook/bag.html", page, status=422 if form.errors else 200)


def _lying(holders, sides):
    """Context of the page beside its form."""
    now, boxed = clock.now(), queries.boxed()
    return {
        "holders": [
            (holder, members)
            for holder, members in holders
            if any(s.state != "out" for s in members)
        ],
        "timers": [Timer.of(exposure, now) for exposure in queries.running()],
        "put_back": boxed.select_related("paper")[:12],
        "empty_sides": [side for side in sides if side.state == "empty"],
        "loaded": sum(side.state == "loaded" for side in sides),
        "out": queries.counts()[Sheet.Stage.OUT],
        "own_backs": sum(side.state == "loaded" and bool(side.holder.camera_id) for side in sides),
    }


def _put_back(request):
    """The sheet asked for that went back into the box with its code on it, if any."""
    code = request.GET.get("code", "").replace("\0", "")
    return queries.boxed().filter(code=code).first()


def _usual_load(sides, put_back):
    """The sheet put back, else the paper loaded last, into the first empty side it fits."""
    empty = [side for side in sides if side.state == "empty"]
    if put_back:
        fitting = [side.key for side in empty if side.holder.size == put_back.size][:1]
        return {"sides": fitting, "paper": put_back.paper_id, "code": put_back.code}
    timed = queries.timed_sheets()
    newest = timed.values_list("paper", flat=True).first()
    return {"sides": [side.key for side in empty[:1]]} | ({"paper": newest} if newest else {})


def stock(request):
    """Fragment of what is left in each box, for the shelf."""
    return fragments.answer(
        request, "logbook/_stock.html", {"stock": queries.stock()}, "Boxes of paper"
    )


def packet(request):
    """Sheets that wait for the developer, by owner: the list that goes with the packet to the next
    day.
    """
    people = queries.packet()
    page = {
        "people": people,
        "count": sum(len(sheets) for _, sheets in people),
        "today": clock.now(),
    }
    return render(request, "logbook/packet.html", page)


@require_POST
def unload(request, pk):
    loading = flows.unload(get_object_or_404(queries.loadings(), pk=pk))
    message = (
        "back in the box, unexposed"
        if loading.sheet.stage == Sheet.Stage.BOXED
        else "in the packet to develop"
    )
    undo.offer(request, f"{loading.sheet} is {message}.", "logbook:lay_in_again", loading.pk)
    return redirect("logbook:bag")


@require_POST
def lay_in_again(request, pk):
    loading = get_object_or_404(queries.loadings(), pk=pk)
    corrections.lay_in_again(loading)
    messages.success(request, f"{loading.sheet} lies in {loading.where} as before.")
    return redirect("logbook:bag")


def _exposure(pk):
    return get_object_or_404(queries.whole(), pk=pk)


def timer(request, pk):
    exposure = _exposure(pk)
    noted = {"subject": exposure.subject, "note": exposure.note}
    return _timer(request, exposure, NoteForm(noted))


def _timer(request, exposure, note_form, status=200):
    page = {"timer": Timer.of(exposure, clock.now()), "exposure": exposure, "slip_form": SlipForm()}
    page["note_form"] = note_form
    page["can_reopen"] = (
        page["timer"].state == "closed" and corrections.stays_shut(exposure) is None
    )
    if request.htmx and not request.htmx.boosted:
        return render(request, "logbook/_timer_live.html", page)
    timers = [
        Timer.of(exposure_row, clock.now())
        for exposure_row in queries.running()
        if exposure_row.pk != exposure.pk
    ]
    return render(request, "logbook/timer.html", page | {"others": timers}, status=status)


TIMER_STEPS = {
    "close": flows.close_hole,
    "reopen": corrections.reopen,
    "cover": while_open.cover,
    "uncover": while_open.uncover,
    "slide-back": corrections.slide_back,
    "slide-out": lambda exposure: corrections.slide_back(exposure, back=False),
    "unslip": corrections.undo_slip,
}


@require_POST
def step(request, pk, word):
    """One tap on the timer; a fragment for htmx, the page again without script."""
    with clock.at(tapped_at(request)):
        TIMER_STEPS[word](_exposure(pk))
    return timer(request, pk) if request.htmx else redirect("logbook:timer", pk)


def reread(request, pk):
    """A second reading while the hole is open."""
    exposure = _exposure(pk)
    form = RereadForm(request.POST or None, exposure=exposure)
    if request.method == "POST" and form.is_valid():
        with clock.at(tapped_at(request)):
            while_open.reread(exposure, form.reading)
        return redirect("logbook:timer", pk)
    page = {"exposure": exposure, "form": form, "timer": Timer.of(exposure, clock.now())}
    return render(request, "logbook/reread.html", page, status=422 if form.errors else 200)


@require_POST
def take_back(request, pk):
    exposure = _exposure(pk)
    empty = corrections.take_back(exposure)
    now = (
        f"{exposure.loading.where} is empty again"
        if empty
        else f"{exposure.sheet} is loaded as before"
    )
    messages.success(request, f"The hole was never opened: {now}.")
    return redirect("logbook:bag")


@require_POST
def close_all(request):
    """Every hole that was shown as open is shut."""
    keys = [key for key in map(row_key, request.POST.getlist("exposure")) if key]
    count = flows.close_all(queries.exposures_of(keys[:MOST_AT_ONCE]))
    messages.success(request, f"{count} {'hole is' if count == 1 else 'holes are'} shut.")
    return redirect("hearth:hearth")


@require_POST
def note(request, pk):
    """Subject and note of an exposure, while it runs and after."""
    exposure, form = _exposure(pk), NoteForm(request.POST, request.FILES)
    if not form.is_valid():
        return _timer(request, exposure, form, status=422)
    cleaned = form.cleaned_data
    corrections.note(exposure, cleaned["note"], cleaned["subject"], cleaned["photo"])
    messages.success(request, "Noted.")
    return redirect("logbook:timer", pk)


def photo(request, pk):
    """The photo of an exposure's scene; sent away, it is gone."""
    if request.method == "POST":
        corrections.drop_photo(_exposure(pk))
        return redirect("logbook:timer", pk)
    photo_row = get_object_or_404(Photo, exposure=pk)
    return HttpResponse(bytes(photo_row.jpeg), content_type="image/jpeg")


@require_POST
def slip(request, pk):
    exposure = _exposure(pk)
    form = SlipForm(request.POST)
    corrections.log_slip(exposure, form.cleaned_data["slip"] if form.is_valid() else "")
    return redirect("logbook:timer", pk)


def sheets(request):
    """All sheets, newest first; found by code, subject, paper, camera or whose they are, and at one
    stage of the work; as strips or as a contact sheet of pictures.
    """
    query = request.GET.get("q", "").replace("\0", "").strip()[:60]
    stage, pictures = request.GET.get("stage", ""), request.GET.get("view") == "pictures"
    rows = queries.looked_for(query)
    rows = rows.filter(stage=stage) if stage in Sheet.Stage.values else rows
    rows = rows.filter(is_pictured=True) if pictures else rows
    page = queries.page_of(rows, 48 if pictures else 25, request.GET.get("page"))
    context = {"page": page, "wanted": query, "stage": stage}
    context |= {"pictures": pictures, "stages": Sheet.Stage.choices}
    address = {"q": query, "stage": stage, "view": "pictures" if pictures else ""}
    context["more"] = f"&{urlencode({name: value for name, value in address.items() if value})}"
    return render(request, "logbook/sheets.html", context)


def sheet(request, code):
    """The thread of one sheet from box to lesson; rooms above add their part by their own URL."""
    threaded = get_object_or_404(queries.with_thread(), code=code)
    exposures = queries.whole(threaded.exposures)
    timers = [Timer.of(exposure, clock.now()) for exposure in exposures]
    return render(
        request,
        "logbook/sheet.html",
        {
            "sheet": threaded,
            "timers": timers,
            "give_up_form": GiveUpForm(),
            "purpose_form": PurposeForm(initial={"purpose": threaded.meant_for}),
            "owner_form": OwnerForm(initial={"person": threaded.person_id}),
        },
    )


@require_POST
def owner(request, code):
    """Write down or put right whose a sheet is."""
    sheet, form = get_object_or_404(Sheet, code=code), OwnerForm(request.POST)
    if form.is_valid():
        corrections.give_owner(sheet, form.cleaned_data["person"])
        messages.success(request, f"{sheet} is {form.cleaned_data['person'] or 'nobody'}'s.")
    return redirect("logbook:sheet", code)


@require_POST
def purpose(request, code):
    """Write down what a sheet is made for."""
    sheet, form = get_object_or_404(Sheet, code=code), PurposeForm(request.POST)
    if form.is_valid():
        corrections.set_purpose(sheet, form.cleaned_data["purpose"])
        messages.success(
            request, f"{sheet} is made for {sheet.Purpose(form.cleaned_data['purpose']).label}."
        )
    return redirect("logbook:sheet", code)


@require_POST
def give_up(request, code):
    sheet = get_object_or_404(Sheet, code=code)
    form = GiveUpForm(request.POST)
    if form.is_valid():
        corrections.give_up(sheet, form.cleaned_data["stage"])
        messages.success(request, f"{sheet} is written down as {form.cleaned_data['stage']}.")
    return redirect("logbook:sheet", code)


@require_POST
def restore(request, code):
    sheet = get_object_or_404(Sheet, code=code)
    corrections.restore(sheet)
    messages.success(request, f"{sheet} is back, as it was.")
    return redirect("logbook:sheet", code)
