"""Let the database itself refuse to change a batch or what was recorded of it."""

from django.db import migrations

CREATE = """
CREATE TRIGGER batch_stays BEFORE UPDATE OF revision_id, number, begun_at ON batches_batch
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
CREATE TRIGGER entry_stays BEFORE UPDATE OF batch_id, kind, line, value, at ON batches_entry
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = """
DROP TRIGGER batch_stays ON batches_batch;
DROP TRIGGER entry_stays ON batches_entry;
"""


class Migration(migrations.Migration):
    dependencies = [("batches", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
