"""Entries become events: each gets a key of its own and its place in the order; nothing of what they say changes."""

import uuid

import django.db.models.deletion
import django.utils.timezone
from django.conf import settings
from django.db import migrations, models

KINDS = (
    "weighed", "ticked", "note", "tasted", "churned", "began", "done", "skipped", "read", "chose", "otherwise",
    "added", "swapped", "gap", "paused", "resumed", "abandoned", "finished", "signed", "released", "overrun", "undone",
)  # fmt: skip
KEYS = "UPDATE batches_event SET key = gen_random_uuid(), counter = id"


class Migration(migrations.Migration):
    dependencies = [
        ("batches", "0006_tub_events_stay"),
        ("kitchens", "0001_initial"),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.RenameModel("Entry", "Event"),
        migrations.AlterField(
            "event",
            "batch",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="events", to="batches.batch"
            ),
        ),
        migrations.AlterField(
            "event", "kind", models.CharField(choices=[(kind, kind.title()) for kind in KINDS], max_length=10)
        ),
        migrations.AlterField("event", "at", models.DateTimeField(default=django.utils.timezone.now)),
        migrations.AddField("event", "key", models.UUIDField(null=True)),
        migrations.AddField("event", "step", models.CharField(blank=True, default="", max_length=40), False),
        migrations.AddField("event", "device", models.CharField(blank=True, default="", max_length=40), False),
        migrations.AddField("event", "counter", models.PositiveBigIntegerField(default=0)),
        migrations.RunSQL(KEYS, migrations.RunSQL.noop),
        migrations.AlterField("event", "key", models.UUIDField(default=uuid.uuid4)),
        migrations.AddConstraint(
            "event", models.UniqueConstraint(fields=("batch", "key"), name="one_event_a_press")
        ),
        migrations.AddField("batch", "planned", models.JSONField(null=True)),
        migrations.AddField(
            "batch",
            "machine",
            models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="kitchens.machine"
            ),
        ),
        migrations.AddField("batch", "runs", models.PositiveSmallIntegerField(null=True)),
        migrations.AddField("batch", "fresh", models.BooleanField(default=False)),
        migrations.CreateModel(
            name="Photo",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("image", models.BinaryField()),
                ("width", models.PositiveSmallIntegerField()),
                ("height", models.PositiveSmallIntegerField()),
                ("step", models.CharField(blank=True, max_length=40)),
                ("at", models.DateTimeField(auto_now_add=True)),
                (
                    "batch",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="photos", to="batches.batch"
                    ),
                ),
                (
                    "by",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to=settings.AUTH_USER_MODEL,
                    ),
                ),
            ],
            options={"ordering": ("id",)},
        ),
    ]
