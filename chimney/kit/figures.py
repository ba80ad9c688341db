"""The camera in section with its true proportions, seen from above, with the rays to the paper's edges."""

from chimney.parts import svg
from chimney.parts.scales import number

WIDTH, HEIGHT = 360.0, 190.0
ROOM_LEFT, ROOM_RIGHT, ROOM_END = 118.0, 92.0, 46.0


def section(camera):
    """A Drawing of the camera; mm are scaled so that box and rays fill the picture."""
    across, high = camera.field_deg
    scale = min((WIDTH - ROOM_LEFT - ROOM_RIGHT) / camera.focal_mm, (HEIGHT - ROOM_END) / camera.cut_width_mm)
    depth, paper = camera.focal_mm * scale, camera.cut_width_mm * scale
    seen = camera.visible_width_mm * scale / 2
    hole_x, middle = ROOM_LEFT + (WIDTH - ROOM_LEFT - ROOM_RIGHT - depth) / 2, (HEIGHT - 26) / 2 + 2
    back_x, half = hole_x + depth, paper / 2
    gap = max(2.0, camera.diameter_mm * scale)
    reach = min(hole_x - 8, (middle - 4) / seen * depth) / depth
    numbers = (
        f"focal length {number(camera.focal_mm)} mm, pinhole {number(camera.diameter_mm)} mm, "
        f"{number(across, 2)} degrees across, {number(high, 2)} degrees high"
    )
    shapes = (
        svg.polygon([(hole_x, middle), (back_x, middle - seen), (back_x, middle + seen)], "cone"),
        svg.line(back_x, middle - seen, hole_x - depth * reach, middle + seen * reach, "ray"),
        svg.line(back_x, middle + seen, hole_x - depth * reach, middle - seen * reach, "ray"),
        svg.line(hole_x, middle - half - 5, hole_x, middle - gap, "wall"),
        svg.line(hole_x, middle + gap, hole_x, middle + half + 5, "wall"),
        svg.line(hole_x, middle - half - 5, back_x + 4, middle - half - 5, "wall"),
        svg.line(hole_x, middle + half + 5, back_x + 4, middle + half + 5, "wall"),
        svg.line(back_x + 4, middle - half - 6.5, back_x + 4, middle + half + 6.5, "wall"),
        svg.line(back_x, middle - half, back_x, middle + half, "paper-edge"),
        svg.line(back_x, middle - seen, back_x, middle + seen, "paper-seen"),
        svg.line(hole_x, HEIGHT - 18, back_x, HEIGHT - 18, "measure"),
        svg.text((hole_x + back_x) / 2, HEIGHT - 4, f"{number(camera.focal_mm)} mm", "label", "middle"),
        svg.text(hole_x - 12, middle + 4, f"{number(camera.diameter_mm)} mm", "label", "end"),
        svg.text(back_x + 12, middle - 8, camera.size, "label"),
        svg.text(back_x + 12, middle + 8, f"{number(across, 2)}° across", "label"),
        svg.text(back_x + 12, middle + 24, f"{number(high, 2)}° high", "label"),
    )
    return svg.Drawing(f"{camera.name} from above", numbers, WIDTH, HEIGHT, shapes, "camera-section")
