
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('people', '0008_bounds_and_retired_plots'),
    ]

    operations = [
        migrations.AddField(
            model_name='holding',
            name='country',
            field=models.CharField(blank=True, help_text='Some countries lime by tables of their own.', max_length=2),
        ),
    ]
