"""A link for guests is for one taster; those for everybody showed each what the others were served, and end."""

from django.db import migrations, models


def end_links_for_everybody(apps, _schema_editor):
    apps.get_model("trials", "Sitting").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("trials", "0003_what_was_served")]
    operations = [
        migrations.RunPython(end_links_for_everybody, migrations.RunPython.noop),
        migrations.AddField("sitting", "taster", models.CharField(max_length=60, default=""), preserve_default=False),
        migrations.AddConstraint(
            "sitting", models.UniqueConstraint(fields=("test", "taster"), name="one_link_a_taster")
        ),
    ]
