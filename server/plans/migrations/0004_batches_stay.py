"""Batches of plans stay: `OnlyGrows` sees to that since 0005."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("plans", "0003_batches_of_plans"), ("mixes", "0002_revisions_stay")]
    operations = []
