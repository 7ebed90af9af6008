from django.apps import AppConfig


class BookingsConfig(AppConfig):
    name = "bookings"
    verbose_name = "Nights at a telescope"

    def ready(self):
        from bookings import signals  # noqa: F401
