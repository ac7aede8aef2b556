"""Versions of ingredients stay: `OnlyGrows` sees to that since 0011."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("ingredients", "0003_more_of_ingredients"), ("mixes", "0002_revisions_stay")]
    operations = []
