-- The role that owns Tembri's database and nothing else. Patroni runs this once, in the first database of an installation.
-- No standby is there yet to wait for.
set synchronous_commit to local;
create role tembri login password '{{TEMBRI_PASSWORD}}';
create database tembri owner tembri;
