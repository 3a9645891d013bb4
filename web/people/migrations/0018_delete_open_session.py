from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("people", "0017_accounts_by_one_package")]

    operations = [migrations.DeleteModel(name="OpenSession")]
