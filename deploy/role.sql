-- Once, as the owner of the cluster: the application has a database of its own and a role that owns
-- it. What each of its connections is to have stands with the role, for pools that hand nothing on.
CREATE ROLE fluctus_app LOGIN PASSWORD 'CHOOSE-ONE-FOR-FLUCTUS';
ALTER ROLE fluctus_app SET lock_timeout = '4s';
ALTER ROLE fluctus_app SET statement_timeout = '10min';
ALTER ROLE fluctus_app SET timezone = 'UTC';
ALTER ROLE fluctus_app SET random_page_cost = 1.1;
CREATE DATABASE fluctus OWNER fluctus_app;
