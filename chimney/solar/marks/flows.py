"""Keeping how a can stood, as its picture says."""

from chimney.ledger.once import verb

READ_FIELDS: tuple[str, ...] = ("read_azimuth_deg", "read_tilt_deg", "read_roll_deg")
READ_FIELDS += ("read_azimuth_sd", "read_tilt_sd", "marks")


@verb
def keep(can, marks, fit):
    """Keep the Fit of marks with its can; the can."""
    can.read_azimuth_deg, can.read_tilt_deg = fit.azimuth_deg, fit.tilt_deg
    can.read_roll_deg = fit.roll_deg
    can.read_azimuth_sd, can.read_tilt_sd = fit.azimuth_sd, fit.tilt_sd
    can.marks = [mark.written for mark in marks]
    can.save(update_fields=READ_FIELDS)
    return can


@verb
def forget(can):
    """Let the can stand as it was left; the can."""
    for name in READ_FIELDS[:-1]:
        setattr(can, name, None)
    can.marks = []
    can.save(update_fields=READ_FIELDS)
    return can
