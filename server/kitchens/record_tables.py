"""The one migration operation of tables that only grow: their rows stay as they were written.

The application's role may read and add, and change the columns that are named; whatever else is refused twice, by
right and by trigger. The role that migrates owns the tables: it alone removes rows, when a kitchen is removed.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from django.db.migrations.operations import RunSQL

APPLICATION_ROLE: Final = "jalebi_app"

RIGHTS: Final = f"""
GRANT USAGE ON SCHEMA public TO {APPLICATION_ROLE};
GRANT SELECT, INSERT, UPDATE, DELETE ON ALL TABLES IN SCHEMA public TO {APPLICATION_ROLE};
GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO {APPLICATION_ROLE};
ALTER DEFAULT PRIVILEGES IN SCHEMA public GRANT SELECT, INSERT, UPDATE, DELETE ON TABLES TO {APPLICATION_ROLE};
ALTER DEFAULT PRIVILEGES IN SCHEMA public GRANT USAGE, SELECT ON SEQUENCES TO {APPLICATION_ROLE};
REVOKE INSERT, UPDATE, DELETE ON django_migrations FROM {APPLICATION_ROLE};
DROP FUNCTION IF EXISTS refuse_change_of_record() CASCADE;
CREATE OR REPLACE FUNCTION keep_record() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'UPDATE' THEN
        IF to_jsonb(OLD) - TG_ARGV[0]::text[] = to_jsonb(NEW) - TG_ARGV[0]::text[] THEN
            RETURN NEW;
        END IF;
    ELSIF current_user = (SELECT pg_get_userbyid(relowner) FROM pg_class WHERE oid = TG_RELID) THEN
        RETURN OLD;
    END IF;
    RAISE EXCEPTION '% is a record and cannot be changed', TG_TABLE_NAME;
END $$;
"""
"""What the application's role may do wherever no operation of this module says less, and what refuses the rest."""

_KEEP: Final = """
DROP TRIGGER IF EXISTS record_stays ON {table};
DROP TRIGGER IF EXISTS records_stay ON {table};
CREATE TRIGGER record_stays BEFORE UPDATE OR DELETE ON {table}
    FOR EACH ROW EXECUTE FUNCTION keep_record('{{{columns}}}');
CREATE TRIGGER records_stay BEFORE TRUNCATE ON {table} FOR EACH STATEMENT EXECUTE FUNCTION keep_record('{{}}');
REVOKE UPDATE, DELETE, TRUNCATE ON {table} FROM {role};
"""
_MAY_CHANGE: Final = "GRANT UPDATE ({columns}) ON {table} TO {role};"
_FREE: Final = """
DROP TRIGGER record_stays ON {table};
DROP TRIGGER records_stay ON {table};
GRANT UPDATE, DELETE ON {table} TO {role};
"""


class OnlyGrows(RunSQL):
    """Let the rows of a table stay as they were written, but for the columns that may change."""

    def __init__(self, table: str, may_change: Sequence[str] = ()) -> None:
        names = {"table": table, "columns": ",".join(may_change), "role": APPLICATION_ROLE}
        keep = _KEEP + (_MAY_CHANGE if may_change else "")
        super().__init__(keep.format(**names), _FREE.format(**names))
