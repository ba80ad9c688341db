"""The person that a guest is, and whose sheet an address is about."""

from chimney.hearth.flows import GUEST_IS
from chimney.logbook.models import Exposure, Loading, Sheet

# Addresses of loaded sides by their number.
LOADINGS = {"unload", "lay_in_again"}


def who(request):
    """The number of the person that a guest is, None before that was said."""
    return request.session.get(GUEST_IS)


def owner(match, kwargs):
    """The Person whose sheet an address is about, or None. match: what the address resolved to."""
    sheets = Sheet.objects.select_related("person")
    if "code" in kwargs:
        sheet = sheets.filter(code=kwargs["code"]).first()
    elif "pk" in kwargs and match.url_name in LOADINGS:
        sheet = sheets.filter(
            pk__in=Loading.objects.filter(pk=kwargs["pk"]).values("sheet")
        ).first()
    elif "pk" in kwargs and match.namespace == "logbook":
        sheet_pks = Exposure.objects.filter(pk=kwargs["pk"]).values("sheet")
        sheet = sheets.filter(pk__in=sheet_pks).first()
    else:
        sheet = None
    return sheet and sheet.person
