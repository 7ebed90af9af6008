from django.db import models


class Telescope(models.Model):
    name = models.CharField(max_length=80)
    mirror = models.PositiveIntegerField(help_text="in centimetres")

    def __str__(self):
        return self.name
