"""The format of a whole log: which kinds of rows travel, with which fields, and its JSON Schema."""

import inspect
import re
from functools import cache
from urllib.parse import parse_qsl, urlencode

from django.apps import apps
from django.db import models

from chimney.exchange.whole import forms, wording

FORMAT, LOG_VERSION = "chimney-log", 1
# In the order in which they can be put in: what is pointed to goes first.
ROW_KINDS = (
    "places.place",
    "places.view",
    "kit.person",
    "kit.developer",
    "kit.meter",
    "kit.camera",
    "kit.holder",
    "kit.observation",
    "kit.paper",
    "kit.box",
    "logbook.sheet",
    "logbook.loading",
    "logbook.exposure",
    "logbook.photo",
    "logbook.opening",
    "logbook.cover",
    "logbook.reread",
    "darkroom.ownprocess",
    "darkroom.vessel",
    "darkroom.safelight",
    "darkroom.lighttest",
    "darkroom.bath",
    "darkroom.topup",
    "darkroom.run",
    "darkroom.lanetap",
    "darkroom.development",
    "darkroom.print",
    "results.tonesetting",
    "results.scannedwedge",
    "results.scan",
    "results.trial",
    "results.verdict",
    "lessons.evidence",
    "lessons.keptsearch",
    "field.outing",
    "field.skychange",
    "field.shot",
    "field.taken",
    "field.scenephoto",
    "field.pocketed",
    "solar.solargraph",
    "solar.event",
    "solar.look",
    "solar.record",
)
# Kinds whose rows a person calls otherwise than the database does.
CALLED = {
    "kit.person": "people",
    "kit.observation": "failings of cameras",
    "kit.box": "boxes of paper",
    "logbook.loading": "sheets put into holders",
    "logbook.opening": "holes opened",
    "logbook.cover": "holes covered meanwhile",
    "logbook.reread": "second readings",
    "darkroom.ownprocess": "processes of your own",
    "darkroom.safelight": "safelights",
    "darkroom.lighttest": "tests of safelights",
    "darkroom.topup": "baths topped up",
    "darkroom.run": "runs in the dark room",
    "darkroom.lanetap": "taps in the dark room",
    "results.tonesetting": "settings for positives",
    "results.scannedwedge": "wedges as scanned",
    "results.trial": "trials of the eye",
    "lessons.evidence": "sheets that teach",
    "lessons.keptsearch": "kept searches",
    "field.outing": "days out",
    "field.skychange": "changes of the sky",
    "field.taken": "exposures of shots",
    "field.scenephoto": "photos of scenes",
    "field.pocketed": "events from pocket sheets",
    "solar.event": "visits to cans",
    "solar.look": "looks at unfixed sheets",
    "solar.record": "records of sunshine",
}
# What stays here, and why.
LEFT_OUT = {
    "lessons.lesson": "learned anew from the sheets; how it was answered travels",
    "lessons.finding": "learned anew from the sheets; how it was answered travels",
    "lessons.wholelog": "learned anew from the sheets",
    "results.preview": "made anew from the scan",
    "results.papertones": "learned anew from the scans",
    "results.inboxfile": "what lies in the folder of this installation",
    "solar.longskyline": "what a link leads to on this installation",
    "ledger.receipt": "which forms this installation answered",
    "ledger.device": "who was let in here",
    "ledger.making": "files that were made here",
    "exchange.installation": "which installation this is",
    "exchange.bringing": "what was brought in here",
    "exchange.arrivals": "stands at each row",
    "exchange.feedtoken": "a secret of this installation",
}
# Fields that are made anew here.
MADE_ANEW = {
    "results.scan": ("state", "trouble"),
    "lessons.evidence": ("weight",),
    # Points into this database; without it a shot that is taken back stays as it was taken.
    "field.taken": ("shot_before",),
}
FIELD = re.compile(r"(\w+) = models\.")
# What a field of the database is in JSON.
JSON_TYPES = (
    (models.BooleanField, "boolean"),
    (models.IntegerField, "integer"),
    (models.FloatField, "number"),
)


@cache
def model_of(kind):
    return apps.get_model(kind)


def words_of(kind):
    """Name that a person gives to rows of that kind."""
    return CALLED.get(kind) or str(model_of(kind)._meta.verbose_name_plural)


@cache
def fields_of(kind):
    """The fields of a kind that travel, in their order; those to many rows last."""
    meta, anew = model_of(kind)._meta, MADE_ANEW.get(kind, ())
    columns = [f for f in meta.concrete_fields if not f.primary_key and f.name not in anew]
    return (*columns, *meta.many_to_many)


@cache
def own_of(kind):
    """The fields by which rows of a kind point to others of it."""
    return [f for f in fields_of(kind) if f.is_relation and f.related_model is model_of(kind)]


@cache
def tables_of(kind):
    """(the table of a kind, {field to many rows: the table that joins them})."""
    meta = model_of(kind)._meta
    return meta.db_table, {f: f.remote_field.through._meta.db_table for f in meta.many_to_many}


@cache
def data_of(kind):
    """The names of the fields of a kind that hold data."""
    return [field.name for field in fields_of(kind) if isinstance(field, models.JSONField)]


# What a kept search may ask for that is a row, and of which kind.
SEARCH_KINDS = {"paper": "kit.paper", "camera": "kit.camera"}
SEARCH_KINDS |= {"developer": "kit.developer", "place": "places.place"}


def asked(query, name):
    """The address of a kept search with the rows that it asks for called name(kind, what they are
    called in it); what that is None of is not asked for any more.
    """
    pairs = [
        (key, name(SEARCH_KINDS[key], value) if key in SEARCH_KINDS else value)
        for key, value in parse_qsl(query)
    ]
    return urlencode([(key, value) for key, value in pairs if value is not None])


def kind_of(model):
    return model._meta.label_lower


def schema():
    """The JSON Schema (2020-12) of a whole log."""
    rows = {kind: {"type": "array", "items": _row(kind)} for kind in ROW_KINDS}
    answer = {
        "type": "object",
        "required": ["what", "of", "standing", "answered"],
        "properties": {
            "what": {"type": "string"},
            "of": {"type": "array", "items": {"type": ["string", "null"]}},
            "standing": {"enum": ["new", "kept", "declined"]},
            "answered": {"type": ["number", "null"]},
        },
        "additionalProperties": False,
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A photographer's whole log, as Chimney writes it",
        "type": "object",
        "required": ["format", "version", "stamp", "rows", "answers"],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": LOG_VERSION},
            "stamp": {
                "type": "object",
                "description": "When and where it was written; nothing else depends on it.",
                "properties": {"written": {"type": "string"}, "installation": {"type": "string"}},
            },
            "rows": {
                "type": "object",
                "required": list(ROW_KINDS),
                "properties": rows,
                "additionalProperties": False,
            },
            "answers": {"type": "array", "items": answer},
        },
        "additionalProperties": False,
    }


def _row(kind):
    properties = {"id": {"type": "string", "pattern": "^[0-9a-f]{32}$"}}
    properties |= {field.name: _property(field) for field in fields_of(kind)}
    return {
        "type": "object",
        "required": list(properties),
        "properties": properties,
        "additionalProperties": False,
    }


def _property(field):
    """JSON Schema of the values that a field may hold."""
    kind = kind_of(field.model)
    if (kind, field.name) in wording.DATA_FIELDS:
        shape, description = wording.DATA_FIELDS[kind, field.name]
        nullable = {"type": [shape["type"], "null"]} if field.null else {}
        return shape | nullable | {"description": description}
    if field.many_to_many:
        description = f"ids of rows of {kind_of(field.related_model)}"
        return {"type": "array", "items": {"type": "string"}, "description": description}
    schema = {"type": _type(field)} | _limits(kind, field)
    if field.null:
        schema["type"] = [schema["type"], "null"]
    description = _description(field)
    return schema | ({"description": description} if description else {})


def _limits(kind, field):
    """The bounds of a field as its form has them, and the words that it may hold."""
    if field.flatchoices:
        choices = [value for value, _ in field.flatchoices]
        choices += [""] if field.blank and "" not in choices else []
        return {"enum": [*choices, None] if field.null else choices}
    if field.is_relation or isinstance(field, models.BooleanField | models.BinaryField):
        return {}
    if isinstance(field, models.DateField):
        return {"format": "date-time" if isinstance(field, models.DateTimeField) else "date"}
    if isinstance(field, models.IntegerField | models.FloatField):
        lowest, highest = forms.bounds_of(kind, field.name)
        return {"minimum": lowest, "maximum": highest}
    return {"maxLength": field.max_length} if field.max_length else {}


def _description(field):
    """Unit or kind of what a field holds, and what stands about it where it is made."""
    sentence = ""
    if field.is_relation:
        sentence = f"id of a row of {kind_of(field.related_model)}"
    elif isinstance(field, models.BinaryField):
        sentence = "where the picture lies in the ZIP"
    elif isinstance(field, models.IntegerField | models.FloatField):
        sentence = wording.UNIT_WORDS.get(field.name.rpartition("_")[2], "")
    return ". ".join(filter(None, (sentence, _remarks(field.model).get(field.name))))


@cache
def _remarks(model):
    """{field: the remark over it in the source}."""
    remarks_by_field, remark = {}, []
    for family in reversed(model.__mro__):
        source = inspect.getsource(family) if family.__module__.startswith("chimney.") else ""
        for line in map(str.strip, source.splitlines()):
            if line.startswith("#"):
                remark.append(line.lstrip("# "))
                continue
            if remark and (name := FIELD.match(line)):
                remarks_by_field[name[1]] = " ".join(remark)
            remark = []
    return remarks_by_field


def _type(field):
    return next((name for kind, name in JSON_TYPES if isinstance(field, kind)), "string")
