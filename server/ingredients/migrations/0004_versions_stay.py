"""Let the database itself refuse to change a version of an ingredient."""

from django.db import migrations

CREATE = """
CREATE TRIGGER version_stays BEFORE UPDATE OF ingredient_id, number, content, changed_at ON ingredients_ingredientversion
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = "DROP TRIGGER version_stays ON ingredients_ingredientversion;"


class Migration(migrations.Migration):
    dependencies = [("ingredients", "0003_more_of_ingredients"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
