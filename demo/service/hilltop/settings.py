from pathlib import Path

BASE_DIR = Path(__file__).resolve().parent.parent

SECRET_KEY = "only for the hill"
DEBUG = True
ALLOWED_HOSTS = ["127.0.0.1", "testserver"]

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.staticfiles",
    "bookings.apps.BookingsConfig",
    "telescopes",
]

MIDDLEWARE = ["django.middleware.common.CommonMiddleware", "bookings.middleware.Darkness"]

ROOT_URLCONF = "hilltop.urls"

TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [BASE_DIR / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {"context_processors": ["telescopes.context.open_now"], "builtins": ["bookings.templatetags.night_sky"]},
    }
]

WSGI_APPLICATION = "hilltop.wsgi.application"

DATABASES = {"default": {"ENGINE": "django.db.backends.sqlite3", "NAME": BASE_DIR / "db.sqlite3"}}

STATIC_URL = "static/"
STATICFILES_DIRS = [BASE_DIR / "static"]
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"quiet": {"()": "telescopes.logs.Quiet"}},
    "handlers": {"console": {"class": "logging.StreamHandler", "filters": ["quiet"]}},
}
