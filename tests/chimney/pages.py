"""Pages as a reader sees them: runs of white space are one, however the template is laid out."""

import re
from copy import copy

from django.test import TestCase as DjangoTestCase
from django.test import TransactionTestCase as DjangoTransactionTestCase


class Words:
    def _assert_contains(self, response, text, *more):
        seen = copy(response)
        if not response.streaming:
            words = re.sub(
                r"\s+", " ", response.content.decode(response.charset or "utf-8", "replace")
            )
            seen.content = words
        return super()._assert_contains(seen, text, *more)


class TestCase(Words, DjangoTestCase):
    pass


class TransactionTestCase(Words, DjangoTransactionTestCase):
    """What is written is really written down: for work that leaves the transaction of a test."""
