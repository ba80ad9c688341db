from django.apps import AppConfig


class ExchangeConfig(AppConfig):
    name = "chimney.exchange"
