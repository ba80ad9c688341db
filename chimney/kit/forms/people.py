"""Owners of sheets: people in use, period by period."""

from itertools import groupby

from chimney.kit.models import Person
from chimney.parts.fields import FewRowsField, FewRowsIterator


class ByPeriodIterator(FewRowsIterator):
    """The choices of a field, those without a period first, then a group for each period."""

    def __iter__(self):
        yield "", self.field.empty_label
        for period, people in groupby(self.field.rows, key=lambda person: person.period):
            choices = [self.choice(person) for person in people]
            if period:
                yield period, choices
            else:
                yield from choices


class PersonField(FewRowsField):
    """A person in use; empty_label: what nobody is called."""

    iterator = ByPeriodIterator

    def __init__(self, **kwargs):
        people = Person.objects.in_use().order_by("period", "name")
        super().__init__(people, required=False, **kwargs)
