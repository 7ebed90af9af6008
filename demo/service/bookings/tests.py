from unittest import mock

from django.core.exceptions import ValidationError
from django.test import TestCase

from bookings.models import Night
from telescopes.models import Telescope


class NightTest(TestCase):
    def test_title(self):
        telescope = Telescope.objects.create(name="Wide Eye", mirror=20)
        night = Night.objects.create(guest="A guest", minutes=30, telescope=telescope)
        self.assertEqual(str(night), "A night at Wide Eye")

    def test_slot(self):
        with self.assertRaises(ValidationError):
            Night(guest="x", minutes=31, telescope=Telescope.objects.create(name="y", mirror=1), title="z").full_clean()

    @mock.patch("bookings.views.render")
    def test_listing(self, render):
        from django.http import HttpResponse

        render.return_value = HttpResponse("seen")
        self.assertEqual(self.client.get("/nights/").content, b"seen")

    def test_darkness(self):
        self.assertEqual(self.client.get("/nights/")["X-Darkness"], "astronomical")
