"""What instruments logged only grows."""

from django.db import migrations

from kitchens.record_tables import OnlyGrows


class Migration(migrations.Migration):
    dependencies = [("instruments", "0001_instruments"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        OnlyGrows("instruments_point"),
    ]
