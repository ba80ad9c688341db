"""What a list of opened, covered, uncovered and closed moments adds up to."""

OPENING = {"opened", "uncovered"}
CLOSING = {"covered", "closed"}


def open_s(moments, now_s):
    """The seconds for which the hole was free.

    moments: (seconds on any one clock, "opened" | "covered" | "uncovered" | "closed") in order of time;
    now_s: the same clock's reading, until which a hole that is still free counts. A second "covered" while covered
    changes nothing. Returns float [s]. Raises ValueError for moments out of order or an unknown word.
    """
    total, since, last = 0.0, None, None
    for at, word in moments:
        if word not in OPENING | CLOSING:
            raise ValueError(f"{word} is not one of {', '.join(sorted(OPENING | CLOSING))}")
        if last is not None and at < last:
            raise ValueError("moments must be in order of time")
        if word in OPENING and since is None:
            since = at
        elif word in CLOSING and since is not None:
            total, since = total + at - since, None
        last = at
    return total + max(0.0, now_s - since) if since is not None else total
