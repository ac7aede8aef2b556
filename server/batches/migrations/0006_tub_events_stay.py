"""Let the database itself refuse to change what happened to a tub, and what it was filled with."""

from django.db import migrations

CREATE = """
CREATE TRIGGER tub_event_stays BEFORE UPDATE OF tub_id, kind, place, "to", why, at ON batches_tubevent
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
CREATE TRIGGER tub_stays BEFORE UPDATE OF batch_id, number, code, ml, grams, packed_on ON batches_tub
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = """
DROP TRIGGER tub_event_stays ON batches_tubevent;
DROP TRIGGER tub_stays ON batches_tub;
"""


class Migration(migrations.Migration):
    dependencies = [("batches", "0005_tubs"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
