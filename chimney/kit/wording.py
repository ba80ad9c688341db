"""The kit in words."""

MOST_NAMED = 6


def roster(added, known):
    """Words for what a list of names made: how many are new, and who was there already."""
    new_words = "One name is new" if added == 1 else f"{added or 'No'} names are new"
    if not known:
        return f"{new_words}."
    named = ", ".join(known[:MOST_NAMED])
    more = f" and {len(known) - MOST_NAMED} more" if len(known) > MOST_NAMED else ""
    are = "was" if len(known) == 1 else "were"
    return f"{new_words}; {named}{more} {are} there already."
