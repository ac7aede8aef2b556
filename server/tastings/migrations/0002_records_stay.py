"""Let the database itself refuse to change what was tasted, measured or chosen."""

from django.db import migrations

TABLES = {
    "card": "batch_id, taster, marks, firmness, liking, words, at",
    "melttest": "batch_id, ball_g, room_c, drips, at",
    "reading": "\"where\", t_c, at",
    "pieceweighing": "slug, piece, pieces, grams, at",
    "choice": "kind, entry, parameter, of, at",
}
CREATE = "".join(
    f"CREATE TRIGGER {table}_stays BEFORE UPDATE OF {columns} ON tastings_{table}"
    " FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();\n"
    for table, columns in TABLES.items()
)
DROP = "".join(f"DROP TRIGGER {table}_stays ON tastings_{table};\n" for table in TABLES)


class Migration(migrations.Migration):
    dependencies = [("tastings", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
