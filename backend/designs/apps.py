from django.apps import AppConfig


class DesignsConfig(AppConfig):
    name = "designs"
