"""The craft of exposing paper through a pinhole, as plain functions on numbers and arrays.

No Django, no clock, no screen, no file. Units stand in the names; the glossary is in
docs/glossary.md.
"""
