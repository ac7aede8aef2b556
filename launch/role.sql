-- The role that the application signs in as: it may make databases, and nothing that only an administrator may.
SELECT 'CREATE ROLE jalebi_app LOGIN CREATEDB'
WHERE NOT EXISTS (SELECT FROM pg_roles WHERE rolname = 'jalebi_app') \gexec
ALTER ROLE jalebi_app NOSUPERUSER PASSWORD :'role_password';

-- Until November 2026 the application worked as the administrator: what it made then is handed over, once.
SELECT count(*) > 0 AS belongs_to_administrator
FROM pg_database JOIN pg_roles ON pg_roles.oid = datdba
WHERE datname = 'jalebi' AND rolname = 'jalebi' \gset
\if :belongs_to_administrator
    \connect jalebi
    BEGIN;
    SELECT format('ALTER TABLE %s OWNER TO jalebi_app', oid::regclass)
    FROM pg_class WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'p', 'v') \gexec
    SELECT format('ALTER SEQUENCE %s OWNER TO jalebi_app', oid::regclass)
    FROM pg_class
    WHERE relnamespace = 'public'::regnamespace AND relkind = 'S'
        AND NOT EXISTS (SELECT FROM pg_depend WHERE objid = pg_class.oid AND deptype IN ('a', 'i')) \gexec
    SELECT format('ALTER FUNCTION %s OWNER TO jalebi_app', oid::regprocedure)
    FROM pg_proc WHERE pronamespace = 'public'::regnamespace \gexec
    ALTER DATABASE jalebi OWNER TO jalebi_app;
    COMMIT;
\endif
