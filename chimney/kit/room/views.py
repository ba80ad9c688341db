"""A room as a camera."""

from django.shortcuts import render

from chimney.kit.room.craft import BLACK_OUT, answer
from chimney.kit.room.forms import RoomForm


def room(request):
    """What a room with a hole in its window shows; the state stands in the address."""
    form = RoomForm(RoomForm.START | request.GET.dict())
    page = {"form": form, "answer": answer(form.cleaned_data) if form.is_valid() else None}
    return render(
        request,
        "kit/_room.html" if request.htmx else "kit/room.html",
        page | {"black_out": BLACK_OUT},
    )
