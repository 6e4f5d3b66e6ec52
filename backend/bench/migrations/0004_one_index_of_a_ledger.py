"""What is found by its trial is found by the index of trial and place; a second one took time and room with each entry."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("bench", "0003_corrections")]

    operations = [
        migrations.AlterField(
            "ledgerevent",
            "trial",
            models.ForeignKey(
                db_index=False, on_delete=django.db.models.deletion.CASCADE, related_name="events", to="bench.trial"
            ),
        ),
    ]
