"""Converters for addresses: a number is one that a row of the database can have."""

from django.urls import register_converter


class RowConverter:
    """A row's number, of as many digits as the database can hold; a longer one leads nowhere."""

    regex = "[0-9]{1,18}"
    to_python = staticmethod(int)
    to_url = staticmethod(str)


register_converter(RowConverter, "row")
