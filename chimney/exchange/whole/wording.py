"""Meanings of the fields of a log, for those who read it with a program of their own."""

# By the end of a field's name.
UNIT_WORDS = {
    "mm": "mm",
    "s": "seconds",
    "deg": "degrees",
    "stops": "stops; one is a factor of two in light",
    "m": "m",
    "c": "degrees Celsius",
    "ml": "ml",
    "percent": "%",
    "m2": "square metres",
    "days": "days",
    "bytes": "bytes",
    "seconds": "seconds",
    "ei": "exposure index, as ISO 6 has it for speeds",
    "iso": "exposure index that a meter was set to",
    "number": "f-number",
    "minutes": "minutes",
    "lux": "lux",
}
PAIR = {"type": "array", "items": {"type": "number"}, "minItems": 2, "maxItems": 2}
PAIRS, NUMBERS_SHAPE = (
    {"type": "array", "items": PAIR},
    {"type": "array", "items": {"type": "number"}},
)
WORDS_SHAPE = {"type": "array", "items": {"type": "string"}}
LINE = (PAIRS, "[[direction, height], ...] in degrees, by growing direction from north by east")
STEP_SHAPE = {
    "name": "string",
    "purpose": "string",
    "least_s": "number",
    "most_s": "number",
    "beat_s": "number",
    "drip_s": "number",
    "light": "string",
    "again": "integer",
    "remark": "string",
    "caution": "string",
}
FACTOR = dict.fromkeys(("multiplier", "seconds", "sd_stops"), "number") | {"name": "string"}


def _record(fields, **more):
    properties = {name: {"type": kind} for name, kind in fields.items()} | more
    return {"type": "object", "required": list(properties), "properties": properties}


STEPS_SHAPE = (
    _record({"version": "integer"}, steps={"type": "array", "items": _record(STEP_SHAPE)}),
    "the steps of a process in their order: from least_s to most_s in it (0: ticked by hand), "
    "agitated every beat_s, drained for drip_s, under which light; again: how many steps before it "
    "may be gone back",
)
CALCULATION = (
    _record(
        dict.fromkeys(("metered_s", "exact_s", "seconds", "sd_stops"), "number")
        | dict.fromkeys(("low_s", "high_s", "low_stops", "high_stops"), "number")
        | {"version": "integer", "bracket": "boolean", "reading": "object"},
        specification={"type": "object", "required": ["f_number", "ei", "school"]},
        factors={"type": "array", "items": _record(FACTOR)},
    ),
    "the calculation of its time as it was then (version 2): reading is what the meter or the eye "
    "said; specification what camera, paper and school were taken to be, with learned as [[name, "
    "stops, sd_stops], ...]; factors lead from the reading to the time, each with what it comes to "
    "by then; metered_s stands before reciprocity, exact_s after it, seconds is what was counted; "
    "low_s to high_s hold nine of ten",
)
# (kind, field): (JSON Schema, what it means).
DATA_FIELDS = {
    ("places.place", "horizon"): LINE,
    ("places.place", "leaf"): LINE,
    ("places.place", "clouds"): (
        PAIRS,
        "cloud that is forecast: [[seconds since 1970 in UTC, percent of the sky], ...], in order",
    ),
    ("solar.solargraph", "horizon"): LINE,
    ("solar.solargraph", "leaf"): LINE,
    ("solar.solargraph", "upper"): LINE,
    ("kit.paper", "table"): (PAIRS, "[[metered, given], ...] in seconds, both growing"),
    ("logbook.exposure", "calculation_data"): CALCULATION,
    ("logbook.exposure", "forecast"): (
        PAIRS,
        "[[seconds from opening, metered seconds by the light of then], ...]; empty where the "
        "light was taken to stand",
    ),
    ("darkroom.ownprocess", "kinds"): (WORDS_SHAPE, "kinds of paper that it suits"),
    ("darkroom.ownprocess", "vessels"): (WORDS_SHAPE, "vessels that it is done in"),
    ("darkroom.ownprocess", "steps_data"): STEPS_SHAPE,
    ("darkroom.run", "steps_data"): STEPS_SHAPE,
    ("darkroom.lighttest", "times_s"): (NUMBERS_SHAPE, "how long each part lay open, growing"),
    ("darkroom.print", "times_s"): (NUMBERS_SHAPE, "of the bands of its strip, or its one time"),
    ("results.scan", "corners"): (PAIRS, "[[x, y], ...] as shares of the scan, four of them"),
    ("results.scannedwedge", "steps"): (PAIRS, "[[code of 255, density], ...]"),
    ("results.verdict", "faults"): (WORDS_SHAPE, "codes of faults that were ticked"),
    ("field.shot", "reading"): (
        {"type": "object"},
        "the reading as it was typed: kind, and then seconds, meter_f and meter_iso, or ev and "
        "ev_iso, or lux, or sky and height",
    ),
    ("field.scenephoto", "spots"): (
        PAIRS,
        "[[x, y], ...] as shares of the photo: shadow, middle, highlight; or empty",
    ),
    ("field.taken", "bands"): (
        {"type": "array", "items": {"type": "object"}},
        "of a test strip: each band's own time",
    ),
    ("solar.solargraph", "marks"): (
        WORDS_SHAPE,
        "places on its picture by which it was read: share from the left, share from the top, and "
        "the day, horizon or direction_height that it lies on",
    ),
    ("solar.record", "rows"): (
        {"type": "array", "items": WORDS_SHAPE},
        "[[ISO date, hours of sunshine], ...], both as text",
    ),
}
