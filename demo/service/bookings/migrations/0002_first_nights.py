from django.db import migrations


def book(apps, schema):
    telescope = apps.get_model("telescopes", "Telescope").objects.create(name="Long Refractor", mirror=40)
    night = apps.get_model("bookings", "Night")
    night.objects.create(title="Rings", guest="A guest", minutes=90, telescope=telescope)
    night.objects.create(title="Clusters", guest="Another guest", minutes=60, telescope=telescope)


class Migration(migrations.Migration):
    dependencies = [("bookings", "0001_initial")]

    operations = [migrations.RunPython(book, migrations.RunPython.noop)]
