"""Events know when they came in, late ones are accepted or declined, and batches and their records only grow."""

import django.utils.timezone
from django.db import migrations, models

from kitchens.record_tables import OnlyGrows

KINDS = (
    "weighed", "ticked", "note", "tasted", "churned", "began", "done", "skipped", "read", "chose", "otherwise",
    "added", "swapped", "gap", "paused", "resumed", "abandoned", "finished", "signed", "released", "overrun",
    "accepted", "declined", "undone",
)  # fmt: skip


class Migration(migrations.Migration):
    dependencies = [("batches", "0007_events"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        migrations.AlterField(
            "event", "kind", models.CharField(choices=[(kind, kind.title()) for kind in KINDS], max_length=10)
        ),
        # Of events from before nobody knows when they came in: the default is for new ones alone.
        migrations.AddField("event", "arrived_at", models.DateTimeField(null=True)),
        migrations.AlterField(
            "event", "arrived_at", models.DateTimeField(default=django.utils.timezone.now, null=True)
        ),
        OnlyGrows("batches_batch", may_change=("machine_id",)),
        OnlyGrows("batches_event"),
        OnlyGrows("batches_photo"),
        OnlyGrows("batches_tubevent"),
        OnlyGrows("batches_tub", may_change=("state", "place_id")),
    ]
