-- Two roles that are no administrators: one owns the tables and migrates them, the other is the application's.
SELECT format('CREATE ROLE %I LOGIN', role)
FROM unnest(ARRAY['jalebi_owner', 'jalebi_app']) AS role
WHERE NOT EXISTS (SELECT FROM pg_roles WHERE rolname = role) \gexec
ALTER ROLE jalebi_owner NOSUPERUSER CREATEDB PASSWORD :'owner_password';
ALTER ROLE jalebi_app NOSUPERUSER NOCREATEDB PASSWORD :'role_password';
GRANT jalebi_app TO jalebi_owner;

-- What the application or the administrator made in earlier releases is handed over, once.
SELECT count(*) > 0 AS belongs_to_another
FROM pg_database JOIN pg_roles ON pg_roles.oid = datdba
WHERE datname = 'jalebi' AND rolname <> 'jalebi_owner' \gset
\if :belongs_to_another
    \connect jalebi
    BEGIN;
    SELECT format('ALTER TABLE %s OWNER TO jalebi_owner', oid::regclass)
    FROM pg_class WHERE relnamespace = 'public'::regnamespace AND relkind IN ('r', 'p', 'v') \gexec
    SELECT format('ALTER SEQUENCE %s OWNER TO jalebi_owner', oid::regclass)
    FROM pg_class
    WHERE relnamespace = 'public'::regnamespace AND relkind = 'S'
        AND NOT EXISTS (SELECT FROM pg_depend WHERE objid = pg_class.oid AND deptype IN ('a', 'i')) \gexec
    SELECT format('ALTER FUNCTION %s OWNER TO jalebi_owner', oid::regprocedure)
    FROM pg_proc WHERE pronamespace = 'public'::regnamespace \gexec
    SELECT format('ALTER TYPE %s OWNER TO jalebi_owner', oid::regtype)
    FROM pg_type WHERE typnamespace = 'public'::regnamespace AND typtype = 'e' \gexec
    ALTER DATABASE jalebi OWNER TO jalebi_owner;
    COMMIT;
\endif
