"""What was tasted or measured keeps the place that it came out of."""

import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("tastings", "0004_records_only_grow"), ("kitchens", "0015_places_are_put_away")]
    operations = [
        migrations.AlterField(
            model,
            "place",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to="kitchens.place"
            ),
        )
        for model in ("card", "reading")
    ]
