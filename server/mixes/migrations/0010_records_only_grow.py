"""Revisions only grow."""

from django.db import migrations

from kitchens.record_tables import OnlyGrows


class Migration(migrations.Migration):
    dependencies = [("mixes", "0009_line_form"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        OnlyGrows("mixes_revision"),
    ]
