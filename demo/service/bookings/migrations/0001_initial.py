import django.db.models.deletion
from django.db import migrations, models

import bookings.validators


class Migration(migrations.Migration):
    initial = True

    dependencies = [("telescopes", "0001_initial")]

    operations = [
        migrations.CreateModel(
            name="Night",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("title", models.CharField(blank=True, max_length=80)),
                ("guest", models.CharField(max_length=80)),
                ("minutes", models.PositiveIntegerField(validators=[bookings.validators.whole_slot])),
                ("telescope", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="nights", to="telescopes.telescope")),
            ],
            options={"ordering": ["id"]},
        ),
    ]
