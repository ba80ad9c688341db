"""Filters that say numbers, times and moments as practitioners do."""

from django import template
from django.utils import timezone
from django.utils.html import format_html

from chimney.parts import bundles, calculation, clock, scales, sentences, sizes, undo
from pinhole import durations

register = template.Library()


@register.simple_tag
def live(target, delay_ms=300, also="change"):
    """The attributes of a form whose answer follows what is typed: the newest answer that came is
    shown, then the newest state is asked for. A drag does not wait until the hand rests. Without
    script the form has its button.
    """
    return format_html(
        'hx-trigger="input delay:{}ms, dragged, {}" hx-target="{}" hx-swap="outerHTML" '
        'hx-sync="this:queue last"',
        delay_ms,
        also,
        target,
    )


register.simple_tag(bundles.icon, name="icon")
register.simple_tag(lambda name: getattr(sentences, name), name="sentence")


@register.simple_tag
def made_ms():
    """This moment of the server's clock, for a form whose tap may be sent much later."""
    return round(clock.now().timestamp() * 1000)


@register.filter
def said(seconds):
    """A time as people say it; nothing for a time that is not there yet."""
    return "" if seconds is None else durations.say(float(seconds))


@register.filter
def planned(seconds):
    """A time to plan with, as people say it; nothing for a time that is not there yet."""
    return "" if seconds is None else calculation.planned(float(seconds))


register.filter("stops", lambda value: scales.stops(float(value)))
register.filter("many_stops", lambda value: scales.many_stops(float(value)))
register.filter("doubt", lambda value: scales.doubt(float(value)))
register.filter("tenths", lambda value: scales.tenths(float(value)))
register.filter("size_of_stops", lambda value: scales.size_of_stops(float(value)))


register.filter("typed_stops", scales.typed_stops)
register.filter("share", lambda value: f"{100 * value:.0f} %")
register.filter("compass", scales.compass)
register.filter("both_sizes", sizes.both)
register.filter("metres", lambda millimetres: scales.number(millimetres / 1000))


@register.filter
def figures(value, count=3):
    """Significant figures."""
    return scales.number(float(value), int(count))


@register.filter
def moment(when):
    """ "today 14:05", "yesterday 09:10", else "Tue 3 Nov 14:05", the year where it is another
    one.
    """
    if when is None:
        return ""
    local, today = timezone.localtime(when), timezone.localtime(clock.now()).date()
    days = (today - local.date()).days
    if days in (0, 1):
        return f"{('today', 'yesterday')[days]} {local:%H:%M}"
    return (
        f"{local:%a} {local.day} "
        f"{local:%b}{'' if local.year == today.year else f' {local.year}'} {local:%H:%M}"
    )


@register.filter
def at_place(when, place):
    """The same on a place's own clock, with its zone where that is not home's."""
    if when is None:
        return ""
    local, now = when.astimezone(place.tz), clock.now().astimezone(place.tz)
    day = _day_of(local, now.date()) or "today "
    home = timezone.get_current_timezone()
    zone = "" if local.utcoffset() == when.astimezone(home).utcoffset() else f" ({place.zone})"
    return f"{day}{local:%H:%M}{zone}"


@register.filter
def day(when):
    """ "today", "yesterday", else "3 Nov" or "3 Nov 2025"."""
    local, today = timezone.localtime(when).date(), timezone.localtime(clock.now()).date()
    days = (today - local).days
    if days in (0, 1):
        return ("today", "yesterday")[days]
    return f"{local.day} {local:%b}{'' if local.year == today.year else f' {local.year}'}"


def _day_of(local, today):
    """ "tomorrow " and the like before a time of day that is not today's; nothing for today's."""
    days = (local.date() - today).days
    if days in (-1, 0, 1):
        return ("yesterday ", "", "tomorrow ")[days + 1]
    return (
        f"{local:%a} {local.day} {local:%b} "
        if abs(days) < 300
        else f"{local.day} {local:%b} {local.year} "
    )


@register.filter
def clock_time(when, precision="m"):
    """The time of day at home, to the minute or the second, with its day where that is not
    today.
    """
    if when is None:
        return ""
    local, today = timezone.localtime(when), timezone.localtime(clock.now()).date()
    return f"{_day_of(local, today)}{local:{'%H:%M:%S' if precision == 's' else '%H:%M'}}"


@register.filter
def there(when):
    """The time of day on the moment's own clock, with its day where that is not today there."""
    return f"{_day_of(when, clock.now().astimezone(when.tzinfo).date())}{when:%H:%M}"


@register.filter
def time_there(when):
    """The time of day on the moment's own clock: a place's hours stay that place's."""
    return f"{when:%H:%M}"


@register.filter
def unlocalized(value):
    """A number for a script: a plain decimal point, milliseconds at the finest; nothing for
    none.
    """
    return "" if value is None else f"{float(value):.3f}"


@register.filter
def counted(number, words):
    """{{ 3|counted:"sheet,sheets" }} -> "3 sheets"; none is said as "no"."""
    return scales.counted(number, *words.split(","))


@register.filter
def undo_address(message):
    """Address of a message's undo button, or nothing."""
    tags = message.extra_tags or ""
    return tags.removeprefix(undo.UNDO_MARK) if tags.startswith(undo.UNDO_MARK) else ""
