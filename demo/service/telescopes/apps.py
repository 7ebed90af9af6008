from django.apps import AppConfig


class TelescopesConfig(AppConfig):
    name = "telescopes"
