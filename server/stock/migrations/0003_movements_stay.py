"""Movements of lots stay: `OnlyGrows` sees to that since 0004."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("stock", "0002_from_stock"), ("mixes", "0002_revisions_stay")]
    operations = []
