import importlib

from django.test import TestCase

from . import context


class TelescopeTest(TestCase):
    def test_front(self):
        self.assertContains(self.client.get("/"), context.open_now(None)["open_now"])

    def test_by_name(self):
        self.assertEqual(importlib.import_module("telescopes.models").Telescope._meta.label, "telescopes.Telescope")
