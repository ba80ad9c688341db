"""Template tags that lead from the words of a page to where they are explained."""

from django import template
from django.template.loader import render_to_string

from chimney.parts import glossary

register = template.Library()


@register.tag
def words_explained(parser, token):
    """Text between it and its end, and after it the words of the trade that it uses."""
    nodes = parser.parse(("endwords_explained",))
    parser.delete_first_token()
    return _Explained(nodes)


class _Explained(template.Node):
    def __init__(self, nodelist):
        self.nodelist = nodelist

    def render(self, context):
        page = self.nodelist.render(context)
        explained = {} if context.get("words") else {"words": glossary.found_in(page)}
        return page + render_to_string("parts/_words_here.html", explained)
