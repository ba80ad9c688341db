"""Ways to go on from an exposure."""

from urllib.parse import urlencode

from chimney.field.again import queries
from chimney.field.plan import page as plans
from chimney.field.plan import queries as plan_queries


def ways(exposure):
    """[(words, its own times, query of the plan)] to go on from an exposure: the same again, and
    its scene on other papers. A bracket or a strip is one shot.
    """
    rows = [("Same again", None)]
    rows += [(f"Same scene, {paper}", paper) for paper in queries.other_papers(exposure)]
    typed = [(words, queries.again(exposure, paper)) for words, paper in rows]
    held = plan_queries.at_hand()
    planned = [(words, plans.read(fields, held=held), fields) for words, fields in typed]
    return [
        (words, page.times_words, urlencode(fields)) for words, page, fields in planned if page.plan
    ]
