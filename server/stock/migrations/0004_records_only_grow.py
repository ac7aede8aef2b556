"""Movements of lots only grow."""

from django.db import migrations

from kitchens.record_tables import OnlyGrows


class Migration(migrations.Migration):
    dependencies = [("stock", "0003_movements_stay"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        OnlyGrows("stock_movement"),
    ]
