"""Where a compass points: declination from a table of spherical-harmonic coefficients that is
handed in.
"""

from dataclasses import dataclass
from math import asin, atan2, cos, degrees, hypot, radians, sin, sqrt

from pinhole.ranges import checked

# WGS 84 ellipsoid and the sphere that the coefficients belong to [km].
A_KM, B_KM, SPHERE_KM = 6378.137, 6356.752314245, 6371.2


@dataclass(frozen=True)
class Model:
    """epoch [decimal year]; rows (n, m, g, h, g per year, h per year) [nT], the main field and its
    drift.
    """

    epoch: float
    rows: tuple
    years: float = 5.0


def read_cof(text):
    """The Model in a coefficient file as published: a header with the epoch, a row each n and m, a
    closing line of 9s.

    Raises ValueError for anything else. Source: the format of the World Magnetic Model.
    """
    lines = [line.split() for line in text.splitlines() if line.strip()]
    try:
        rows = [(int(a[0]), int(a[1]), *map(float, a[2:6])) for a in lines[1:] if len(a) == 6]
        return Model(float(lines[0][0]), tuple(rows)) if rows else _no_rows()
    except (IndexError, ValueError) as error:
        raise ValueError("that is no table of magnetic coefficients") from error


def _no_rows():
    raise ValueError("no rows")


def declination_deg(model, year, latitude_deg, longitude_deg, elevation_m=0):
    """How far magnetic north lies east of true north, in degrees.

    model: Model; year: decimal, clamped to the model's own span; latitude_deg [-90 to 90],
    longitude_deg [-180 to 180], elevation_m [-500 to 10 000]; scalars. Raises ValueError outside.
    Source: the field as the gradient of a Schmidt semi-normalised spherical harmonic series
    (Chulliat et al., The US/UK World Magnetic Model, technical report, from memory). Near the
    magnetic poles it means little.
    """
    latitude = radians(float(checked("latitude_deg", latitude_deg, least=-90, most=90)))
    longitude = radians(float(checked("longitude_deg", longitude_deg, least=-180, most=180)))
    height = float(checked("elevation_m", elevation_m, least=-500, most=10_000)) / 1000
    drift = min(max(float(year), model.epoch), model.epoch + model.years) - model.epoch
    radius, geocentric = _geocentric(latitude, height)
    north, east, down = _field(model, drift, radius, geocentric, longitude)
    # From the geocentric frame back to the ellipsoid's.
    turn = geocentric - latitude
    return degrees(atan2(east, north * cos(turn) - down * sin(turn)))


def _geocentric(latitude, height_km):
    """(radius in km, geocentric latitude in radians)."""
    bend = A_KM**2 / sqrt((A_KM * cos(latitude)) ** 2 + (B_KM * sin(latitude)) ** 2)
    across = (bend + height_km) * cos(latitude)
    up = (bend * (B_KM / A_KM) ** 2 + height_km) * sin(latitude)
    radius = hypot(across, up)
    return radius, asin(up / radius)


def _field(model, drift, radius, latitude, longitude):
    """(north, east, down) in the geocentric frame [nT]."""
    degree = max(row[0] for row in model.rows)
    values, slopes = _legendre(degree, sin(latitude), max(cos(latitude), 1e-10))
    north = east = down = 0.0
    for n, m, g, h, g_year, h_year in model.rows:
        g, h = g + drift * g_year, h + drift * h_year
        fall = (SPHERE_KM / radius) ** (n + 2)
        wave = g * cos(m * longitude) + h * sin(m * longitude)
        north -= fall * wave * slopes[n][m]
        east += (
            fall
            * m
            * (g * sin(m * longitude) - h * cos(m * longitude))
            * values[n][m]
            / max(cos(latitude), 1e-10)
        )
        down -= fall * (n + 1) * wave * values[n][m]
    return north, east, down


def _legendre(degree, s, c):
    """Schmidt semi-normalised P[n][m] of sin(latitude) = s, and their slopes against latitude."""
    p = [[0.0] * (degree + 1) for _ in range(degree + 1)]
    d = [[0.0] * (degree + 1) for _ in range(degree + 1)]
    p[0][0] = 1.0
    for n in range(1, degree + 1):
        for m in range(n + 1):
            if n == m:
                scale = sqrt((2 * n - 1) / (2 * n)) if n > 1 else 1.0
                p[n][m] = scale * c * p[n - 1][m - 1]
                d[n][m] = scale * (c * d[n - 1][m - 1] - s * p[n - 1][m - 1])
                continue
            root, before = sqrt(n * n - m * m), sqrt((n - 1) ** 2 - m * m) if n - 1 > m else 0.0
            older = p[n - 2][m] if n > 1 else 0.0
            older_d = d[n - 2][m] if n > 1 else 0.0
            p[n][m] = ((2 * n - 1) * s * p[n - 1][m] - before * older) / root
            d[n][m] = ((2 * n - 1) * (s * d[n - 1][m] + c * p[n - 1][m]) - before * older_d) / root
    return p, d
