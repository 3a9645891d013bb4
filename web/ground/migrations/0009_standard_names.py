
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('ground', '0008_bounds_and_retired_plots'),
    ]

    operations = [
        migrations.RenameModel(
            old_name='Gift',
            new_name='NutrientCredit',
        ),
    ]
