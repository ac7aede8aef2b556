"""Number the changes of shelves by a sequence: a change that is rolled back must not lend its number to another."""

from django.db import migrations

CREATE = """
CREATE SEQUENCE shelf_change;
SELECT setval('shelf_change', 1 + (SELECT coalesce(max(shelf_version), 0) FROM kitchens_kitchen));
CREATE OR REPLACE FUNCTION count_shelf_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE kitchens_kitchen SET shelf_version = nextval('shelf_change')
        WHERE id IN (SELECT DISTINCT kitchen_id FROM changed);
    RETURN NULL;
END $$;
"""
DROP = """
CREATE OR REPLACE FUNCTION count_shelf_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE kitchens_kitchen SET shelf_version = shelf_version + 1
        WHERE id IN (SELECT DISTINCT kitchen_id FROM changed);
    RETURN NULL;
END $$;
DROP SEQUENCE shelf_change;
"""


class Migration(migrations.Migration):
    dependencies = [("ingredients", "0004_versions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
