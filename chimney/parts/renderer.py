from django.forms.renderers import TemplatesSetting


class Renderer(TemplatesSetting):
    """One template joins label, unit, help and error of every field."""

    field_template_name = "parts/_field.html"
