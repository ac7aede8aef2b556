"""What happened to tubs stays: `OnlyGrows` sees to that since 0008."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("batches", "0005_tubs"), ("mixes", "0002_revisions_stay")]
    operations = []
