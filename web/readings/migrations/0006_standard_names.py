
from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('ground', '0009_standard_names'),
        ('people', '0008_bounds_and_retired_plots'),
        ('readings', '0005_bounds_and_retired_plots'),
        ('sampling', '0002_bounds_and_retired_plots'),
    ]

    operations = [
        migrations.RenameModel(
            old_name='Slip',
            new_name='LabReport',
        ),
        migrations.RenameModel(
            old_name='SlipLine',
            new_name='LabResult',
        ),
    ]
