"""Owners of sheets: people in use, period by period."""

from itertools import groupby

from django import forms
from django.forms.models import ModelChoiceIterator

from chimney.kit.models import Person


class ByPeriodIterator(ModelChoiceIterator):
    """The choices of a field, those without a period first, then a group for each period."""

    def __iter__(self):
        yield "", self.field.empty_label
        for period, people in groupby(self.queryset, key=lambda person: person.period):
            choices = [self.choice(person) for person in people]
            if period:
                yield period, choices
            else:
                yield from choices


class PersonField(forms.ModelChoiceField):
    """A person in use; empty_label: what nobody is called."""

    iterator = ByPeriodIterator

    def __init__(self, **kwargs):
        people = Person.objects.in_use().order_by("period", "name")
        super().__init__(people, required=False, **kwargs)
