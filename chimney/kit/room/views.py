"""A room as a camera."""

from django.shortcuts import render

from chimney.kit.room import figures
from chimney.kit.room.craft import BLACK_OUT, answer
from chimney.kit.room.forms import RoomForm


def room(request):
    """Page of what a room with a hole in its window shows; the state stands in the address."""
    form = RoomForm(RoomForm.START | request.GET.dict())
    page = {"form": form, "answer": answer(form.cleaned_data) if form.is_valid() else None}
    if page["answer"]:
        cleaned, result = form.cleaned_data, page["answer"]
        page["drawing"] = figures.room(
            cleaned["throw_m"], cleaned["hole_mm"], result.picture, result.lens_m
        )
    return render(
        request,
        "kit/_room.html" if request.htmx else "kit/room.html",
        page | {"black_out": BLACK_OUT},
    )
