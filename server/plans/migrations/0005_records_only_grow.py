"""What happened to plans, and their batches, only grow."""

from django.db import migrations

from kitchens.record_tables import OnlyGrows


class Migration(migrations.Migration):
    dependencies = [("plans", "0004_batches_stay"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        OnlyGrows("plans_planevent"),
        OnlyGrows("plans_planbatch"),
    ]
