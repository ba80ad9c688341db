"""Faults of a sheet: what each is, and what it looks like."""

from pinhole.faults.catalogue import FAULTS, Fault, choices
from pinhole.faults.marks import NO_LIGHT, blurred

__all__ = ["FAULTS", "NO_LIGHT", "Fault", "blurred", "choices"]
