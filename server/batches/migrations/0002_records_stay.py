"""Batches and what was recorded of them stay: `OnlyGrows` sees to that since 0008."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("batches", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = []
