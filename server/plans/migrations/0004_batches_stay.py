"""Let the database itself refuse to change which batch was begun for a product."""

from django.db import migrations

CREATE = """
CREATE TRIGGER plan_batch_stays BEFORE UPDATE OF plan_id, product, batch_id ON plans_planbatch
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = "DROP TRIGGER plan_batch_stays ON plans_planbatch;"


class Migration(migrations.Migration):
    dependencies = [("plans", "0003_batches_of_plans"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
