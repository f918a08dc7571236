-- Once, as the owner of the cluster, in the database fluctus: what it spends its time on, for the page
-- How it is. The library is loaded by patroni.yml. It is in a schema of its own, which is no part of
-- what is backed up and restored.
CREATE SCHEMA statements;
GRANT USAGE ON SCHEMA statements TO fluctus_app;
CREATE EXTENSION pg_stat_statements SCHEMA statements;
