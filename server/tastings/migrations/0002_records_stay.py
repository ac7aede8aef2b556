"""What was tasted stays: `OnlyGrows` sees to that since 0004."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("tastings", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = []
