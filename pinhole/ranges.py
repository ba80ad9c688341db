"""One way to refuse numbers the craft cannot use: scalars give float, arrays give float64, nan
passes through.
"""

from typing import Any, TypeAlias

import numpy as np
import numpy.typing as npt

Array: TypeAlias = npt.NDArray[Any]
ArrayLike: TypeAlias = npt.ArrayLike
# A float where all that was given were scalars, else a float64 array: which, no type can say.
Numbers: TypeAlias = Any


def checked(
    name: str,
    values: ArrayLike,
    *,
    above: float | None = None,
    least: float | None = None,
    most: float | None = None,
) -> Array:
    """The values as a float64 array of their own shape.

    name: how the number is called in the message; above: open lower limit; least, most: closed
    limits.
    Raises ValueError that names the permitted range when any element other than nan is outside or
    infinite.
    """
    array = np.asarray(values, dtype=np.float64)
    outside = np.isinf(array)
    bounds = []
    if above is not None:
        outside |= array <= above
        bounds.append(f"above {above:g}")
    if least is not None:
        outside |= array < least
        bounds.append(f"at least {least:g}")
    if most is not None:
        outside |= array > most
        bounds.append(f"at most {most:g}")
    if outside.any():
        raise ValueError(f"{name} must be {' and '.join([*bounds, 'finite'])}")
    return array


def plain(array: Any) -> Numbers:
    """A float for a result without dimensions, else the float64 array itself."""
    return float(array) if np.ndim(array) == 0 else np.asarray(array, dtype=np.float64)
