"""A place that is needed no more is put away: what stood or was measured there stays."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("kitchens", "0014_rights_of_the_application")]
    operations = [migrations.AddField("place", "put_away", models.BooleanField(default=False))]
