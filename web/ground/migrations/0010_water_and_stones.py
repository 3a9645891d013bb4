
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('ground', '0009_standard_names'),
    ]

    operations = [
        migrations.AddField(
            model_name='plot',
            name='bulk_density_g_per_cm3',
            field=models.FloatField(blank=True, null=True),
        ),
        migrations.AddField(
            model_name='plot',
            name='stones_pct',
            field=models.FloatField(blank=True, null=True),
        ),
        migrations.AddField(
            model_name='plot',
            name='watering_mm',
            field=models.FloatField(blank=True, null=True),
        ),
    ]
