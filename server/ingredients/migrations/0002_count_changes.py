"""Let the database count every change of a kitchen's shelf, whoever makes it."""

from django.db import migrations

CREATE = """
CREATE FUNCTION count_shelf_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE kitchens_kitchen SET shelf_version = shelf_version + 1
        WHERE id IN (SELECT DISTINCT kitchen_id FROM changed);
    RETURN NULL;
END $$;
CREATE TRIGGER shelf_grows AFTER INSERT ON ingredients_ingredient
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_shelf_change();
CREATE TRIGGER shelf_changes AFTER UPDATE ON ingredients_ingredient
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_shelf_change();
CREATE TRIGGER shelf_shrinks AFTER DELETE ON ingredients_ingredient
    REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_shelf_change();
"""
DROP = """
DROP TRIGGER shelf_grows ON ingredients_ingredient;
DROP TRIGGER shelf_changes ON ingredients_ingredient;
DROP TRIGGER shelf_shrinks ON ingredients_ingredient;
DROP FUNCTION count_shelf_change();
"""


class Migration(migrations.Migration):
    dependencies = [("ingredients", "0001_initial")]
    operations = [migrations.RunSQL(CREATE, DROP)]
