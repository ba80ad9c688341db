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
    # A plan asks this a thousand times of one number, for which Python is quicker than an array.
    numbers: Numbers = array.item() if array.ndim == 0 else array
    outside = abs(numbers) == np.inf
    if above is not None:
        outside |= numbers <= above
    if least is not None:
        outside |= numbers < least
    if most is not None:
        outside |= numbers > most
    if outside if isinstance(outside, bool) else outside.any():
        limits = (("above", above), ("at least", least), ("at most", most))
        bounds = [f"{word} {limit:g}" for word, limit in limits if limit is not None]
        raise ValueError(f"{name} must be {' and '.join([*bounds, 'finite'])}")
    return array


def plain(array: Any) -> Numbers:
    """A float for a result without dimensions, else the float64 array itself."""
    return float(array) if np.ndim(array) == 0 else np.asarray(array, dtype=np.float64)
