from django.apps import AppConfig


class TabletsConfig(AppConfig):
    name = "tablets"
