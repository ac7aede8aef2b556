"""Let the database itself refuse to change a revision."""

from django.db import migrations

CREATE = """
CREATE FUNCTION refuse_change_of_record() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION '% is a record and cannot be changed', TG_TABLE_NAME;
END $$;
CREATE TRIGGER revision_stays BEFORE UPDATE OF mix_id, number, name, content, kept_at ON mixes_revision
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = """
DROP TRIGGER revision_stays ON mixes_revision;
DROP FUNCTION refuse_change_of_record();
"""


class Migration(migrations.Migration):
    dependencies = [("mixes", "0001_initial")]
    operations = [migrations.RunSQL(CREATE, DROP)]
