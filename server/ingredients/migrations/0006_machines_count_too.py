"""Count changes of machines with those of the shelf: both are remembered until the number changes."""

from django.db import migrations

CREATE = """
CREATE TRIGGER machines_grow AFTER INSERT ON kitchens_machine
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_shelf_change();
CREATE TRIGGER machines_change AFTER UPDATE ON kitchens_machine
    REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_shelf_change();
CREATE TRIGGER machines_shrink AFTER DELETE ON kitchens_machine
    REFERENCING OLD TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION count_shelf_change();
"""
DROP = """
DROP TRIGGER machines_grow ON kitchens_machine;
DROP TRIGGER machines_change ON kitchens_machine;
DROP TRIGGER machines_shrink ON kitchens_machine;
"""


class Migration(migrations.Migration):
    dependencies = [("ingredients", "0005_count_never_twice_the_same"), ("kitchens", "0005_machines_and_scales")]
    operations = [migrations.RunSQL(CREATE, DROP)]
