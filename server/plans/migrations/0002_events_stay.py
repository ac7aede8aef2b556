"""Let the database itself refuse to change what happened to a plan."""

from django.db import migrations

CREATE = """
CREATE TRIGGER plan_event_stays BEFORE UPDATE OF plan_id, kind, step, minute, at ON plans_planevent
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = "DROP TRIGGER plan_event_stays ON plans_planevent;"


class Migration(migrations.Migration):
    dependencies = [("plans", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
