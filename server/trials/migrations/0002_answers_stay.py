"""Answers of tests stay: `OnlyGrows` sees to that since 0003."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("trials", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = []
