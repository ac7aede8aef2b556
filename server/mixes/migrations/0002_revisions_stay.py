"""Revisions stay: `OnlyGrows` sees to that since 0010."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("mixes", "0001_initial")]
    operations = []
