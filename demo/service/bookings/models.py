from django.db import models

import bookings.validators
from telescopes.models import Telescope


class Night(models.Model):
    title = models.CharField(max_length=80, blank=True)
    guest = models.CharField(max_length=80)
    minutes = models.PositiveIntegerField(validators=[bookings.validators.whole_slot])
    telescope = models.ForeignKey(Telescope, on_delete=models.CASCADE, related_name="nights")

    class Meta:
        ordering = ["id"]

    def __str__(self):
        return self.title
