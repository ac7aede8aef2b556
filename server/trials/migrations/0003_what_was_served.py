"""What was served is kept, where it was worked out again from a seed; variants stay, their mixes stand beside them."""

from django.db import migrations, models

from jalebi_core.formats.design_snapshot import design_snapshot
from jalebi_core.tasting.serving import design
from kitchens.record_tables import OnlyGrows


def keep_what_was_served(apps, _schema_editor):
    for test in apps.get_model("trials", "TrialTest").objects.all():
        served = design(test.kind, test.variants, test.tasters, test.replicates, test.seed, twins_in_order=True)
        test.served = design_snapshot(served)
        test.save(update_fields=["served"])


def keep_mixes_of_variants(apps, _schema_editor):
    for trial in apps.get_model("trials", "Trial").objects.all():
        trial.mixes = {one["key"]: one["mix"] for one in trial.variants if one["mix"] is not None}
        trial.save(update_fields=["mixes"])


class Migration(migrations.Migration):
    dependencies = [("trials", "0002_answers_stay"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        migrations.AddField("trial", "mixes", models.JSONField(default=dict)),
        migrations.AddField("trialtest", "served", models.JSONField(null=True)),
        migrations.RunPython(keep_what_was_served, migrations.RunPython.noop),
        migrations.RunPython(keep_mixes_of_variants, migrations.RunPython.noop),
        migrations.AlterField("trialtest", "served", models.JSONField()),
        OnlyGrows("trials_trialanswer"),
        OnlyGrows("trials_trialtest", may_change=("closed_at",)),
        OnlyGrows("trials_trial", may_change=("mixes", "decided")),
    ]
