from django.core.management.base import BaseCommand

from chimney.exchange.whole import catalogue

FIELDS_HEADING = """# Every field of a whole log

Written by `manage.py fields` from the same bounds that a log is held to when it is brought in;
what surrounds it is told in [formats.md](formats.md). A field that may be null says so.
"""


class Command(BaseCommand):
    help = "Writes docs/fields.md anew: every field of a log, its unit and what it may hold."

    def handle(self, **options):
        self.stdout.write(told(), ending="")


def told():
    """The page of all fields, as Markdown."""
    rows = catalogue.schema()["properties"]["rows"]["properties"]
    return "\n".join(
        [
            FIELDS_HEADING,
            *(line for kind, fields in rows.items() for line in _of_kind(kind, fields)),
        ]
    )


def _of_kind(kind, of):
    purpose = " ".join((catalogue.model_of(kind).__doc__ or "").split())
    purpose = "" if purpose.startswith(catalogue.model_of(kind).__name__ + "(") else purpose
    yield f"## {kind}: {catalogue.words_of(kind)}\n"
    if purpose:
        yield f"{purpose}\n"
    yield "| field | holds | meaning |"
    yield "|---|---|---|"
    for name, told_of in of["items"]["properties"].items():
        yield f"| `{name}` | {_holds(told_of)} | {told_of.get('description', '')} |"
    yield ""


def _holds(told_of):
    kinds = told_of.get("type", [])
    kinds = kinds if isinstance(kinds, list) else [kinds]
    sentence = "" if "enum" in told_of else " or ".join(kinds)
    if "enum" in told_of:
        sentence = ", ".join("null" if value is None else f"`{value}`" for value in told_of["enum"])
    if "minimum" in told_of:
        sentence += f", {told_of['minimum']:g} to {told_of['maximum']:g}"
    if "maxLength" in told_of:
        sentence += f", at most {told_of['maxLength']} letters"
    if "format" in told_of:
        sentence += f", {told_of['format']}"
    return sentence.replace("|", "\\|")
