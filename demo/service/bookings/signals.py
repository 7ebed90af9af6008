from django.db.models.signals import pre_save

from telescopes.models import Telescope

from .models import Night


def name_of(sender, instance, **kwargs):
    if not instance.title:
        instance.title = f"A night at {Telescope.objects.get(pk=instance.telescope_id).name}"


pre_save.connect(name_of, sender=Night)
