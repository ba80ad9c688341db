"""What a list of opened, covered, uncovered and closed moments adds up to."""

OPENING = {"opened", "uncovered"}
CLOSING = {"covered", "closed"}


def spans(moments, now_s):
    """[(from, to)] for which the hole was free, in order; arguments and errors as open_s."""
    found, since, last = [], None, None
    for at, word in moments:
        if word not in OPENING | CLOSING:
            raise ValueError(f"{word} is not one of {', '.join(sorted(OPENING | CLOSING))}")
        if last is not None and at < last:
            raise ValueError("moments must be in order of time")
        if word in OPENING and since is None:
            since = at
        elif word in CLOSING and since is not None:
            found, since = [*found, (since, at)], None
        last = at
    return found if since is None else [*found, (since, max(since, now_s))]


def open_s(moments, now_s):
    """The seconds for which the hole was free.

    moments: (seconds on any one clock, "opened" | "covered" | "uncovered" | "closed") in order of time;
    now_s: the same clock's reading, until which a hole that is still free counts. A second "covered" while covered
    changes nothing. Returns float [s]. Raises ValueError for moments out of order or an unknown word.
    """
    return float(sum(end - start for start, end in spans(moments, now_s)))
