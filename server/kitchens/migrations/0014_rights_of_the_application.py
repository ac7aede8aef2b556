"""The application works with a role that owns nothing: what it may do with the tables, and what keeps records."""

from django.db import migrations

from kitchens.record_tables import RIGHTS


class Migration(migrations.Migration):
    dependencies = [("kitchens", "0013_speed_from_the_log")]
    operations = [migrations.RunSQL(RIGHTS, migrations.RunSQL.noop)]
