import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("drafting", "0001_initial"), ("people", "0001_initial")]

    operations = [
        migrations.RenameModel("ClassFactor", "ClassCorrection"),
        migrations.RenameField("ClassCorrection", "factor", "correction"),
        migrations.AlterField(
            "ClassCorrection",
            "school_class",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="corrections", to="people.schoolclass"
            ),
        ),
    ]
