"""Let the database itself refuse to change what happened to a lot."""

from django.db import migrations

CREATE = """
CREATE TRIGGER movement_stays
    BEFORE UPDATE OF lot_id, kind, grams, counted_g, batch_id, line, into_id, corrects_id, why, at ON stock_movement
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = "DROP TRIGGER movement_stays ON stock_movement;"


class Migration(migrations.Migration):
    dependencies = [("stock", "0002_from_stock"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
