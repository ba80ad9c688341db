"""Tables of the log, each a name and its columns: what stands over a column, and where it is
read.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class LogTable:
    """name: as in the address; words: what it holds; columns: (heading, lookup)."""

    name: str
    words: str
    columns: tuple


TABLES = (
    LogTable(
        "sheets",
        "sheets with what became of them",
        (
            ("code", "code"),
            ("paper", "paper__name"),
            ("size", "size"),
            ("stage", "stage"),
            ("cut_at", "cut_at"),
            ("person", "person__name"),
            ("camera", "camera"),
            ("subject", "subject"),
            ("place", "place"),
            ("developer", "developer"),
            ("verdict_stops_more", "verdict__stops_more"),
            ("faults", "verdict__faults"),
            ("remarks", "verdict__remarks"),
            ("note", "note"),
        ),
    ),
    LogTable(
        "exposures",
        "exposures with their times",
        (
            ("sheet", "sheet__code"),
            ("camera", "camera__name"),
            ("f_number", "calculation_data__specification__f_number"),
            ("paper", "sheet__paper__name"),
            ("ei", "calculation_data__specification__ei"),
            ("reading", "calculation_data__reading__said"),
            ("metered_s", "calculation_data__metered_s"),
            ("planned_s", "planned_s"),
            ("given_s", "given_s"),
            ("subject", "subject"),
            ("place", "place__name"),
            ("azimuth_deg", "azimuth_deg"),
            ("school", "calculation_data__specification__school__name"),
            ("opened_at", "opened"),
            ("closed_at", "closed"),
            ("made_at", "made_at"),
            ("slip", "slip"),
            ("note", "note"),
        ),
    ),
    LogTable(
        "runs",
        "sheets in the developer",
        (
            ("sheet", "sheet__code"),
            ("process", "run__process_name"),
            ("developer", "run__developer__name"),
            ("parts", "run__parts"),
            ("temperature_c", "run__temperature_c"),
            ("developer_s", "seconds"),
            ("began_at", "run__began_at"),
            ("developed_at", "developed_at"),
            ("remarks", "run__remarks"),
        ),
    ),
    LogTable(
        "cans",
        "solargraphs and where they hang",
        (
            ("name", "name"),
            ("camera", "camera__name"),
            ("place", "place__name"),
            ("spot", "spot"),
            ("latitude_deg", "latitude_deg"),
            ("longitude_deg", "longitude_deg"),
            ("azimuth_deg", "azimuth_deg"),
            ("tilt_deg", "tilt_deg"),
            ("first_day", "first_day"),
            ("last_day", "last_day"),
            ("opened_at", "opened_at"),
            ("closed_at", "closed_at"),
            ("sheet", "sheet__code"),
            ("note", "note"),
        ),
    ),
)
