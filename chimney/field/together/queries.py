"""Cameras that may be opened together: sheets that lie in the cameras themselves, one for each
box.
"""

from chimney.logbook.queries import running, sides


def loaded():
    """The loaded sides of cameras' own backs whose boxes are shut."""
    busy = {exposure.camera.body_pk for exposure in running()}
    free = {}
    for side in sides():
        camera = side.holder.camera
        if camera and side.state == "loaded" and camera.body_pk not in busy:
            free.setdefault(camera.pk, side)
    return list(free.values())
