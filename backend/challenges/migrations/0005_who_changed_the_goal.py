from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('challenges', '0004_schools_of_hideouts'),
    ]

    operations = [
        migrations.AddField(
            model_name='goalchange',
            name='author',
            field=models.CharField(blank=True, max_length=80),
        ),
    ]
