"""A forecast of cloud as a table: a moment and percents of the sky a row."""

from datetime import datetime

# Two weeks and a half by the hour.
MOST_HOURS = 420


def read_clouds(rows, zone):
    """[[epoch seconds, percent], ...] in order, of rows of text: date and time in one cell or two,
    of the zone's clock unless they say another, and percent of cloud.

    Raises ValueError that names the row for anything else.
    """
    clouds = {}
    for number, row in enumerate(rows, 1):
        cells = [cell.strip() for cell in row if cell.strip()]
        if not cells:
            continue
        try:
            moment = datetime.fromisoformat(" ".join(cells[:-1]))
            percent = float(cells[-1].removesuffix("%").replace(",", "."))
        except ValueError as error:
            if number == 1:
                continue
            raise ValueError(
                f"row {number} is not a moment and percents of cloud: {' '.join(cells)[:40]}"
            ) from error
        if not 0 <= percent <= 100 or not 1970 < moment.year < 2100:
            raise ValueError(f"row {number}: cloud covers from 0 to 100 % of the sky")
        local = moment if moment.tzinfo else moment.replace(tzinfo=zone)
        clouds[round(local.timestamp())] = percent
        if len(clouds) > MOST_HOURS:
            raise ValueError(f"more than {MOST_HOURS} rows: a row an hour is enough")
    if len(clouds) < 2:
        raise ValueError("it takes two rows at least, each with a moment and percents of cloud")
    return [[second, percent] for second, percent in sorted(clouds.items())]
