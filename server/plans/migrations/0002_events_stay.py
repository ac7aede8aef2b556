"""What happened to plans stays: `OnlyGrows` sees to that since 0005."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("plans", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = []
