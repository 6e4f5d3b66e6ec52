from django.apps import AppConfig


class DraftingConfig(AppConfig):
    name = "drafting"
