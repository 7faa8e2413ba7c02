-- The queries most pages stand on, with their plans, on a database that bench/town filled; as the application's role, within one studio, so with row-level security.
-- psql -d … -U tembri -f bench/plans.sql
\set ON_ERROR_STOP 1
\pset tuples_only on
\pset format unaligned
select id as studio from studios order by md5(id::text) limit 1 \gset
select set_config('tembri.studio', :'studio', false) \gset
select id as student from students order by md5(id::text) limit 1 \gset
select id as song from songs order by md5(id::text) limit 1 \gset
select digest as digest from student_links where student_id = :'student' limit 1 \gset
select s.id as session from sessions s limit 1 \gset
\echo '== who asks (every page)'
explain (analyze, costs off, timing off, summary on) select s.seen_at, t.security_stamp, t.studio_id, st.closed_at from sessions s join teachers t on t.id = s.teacher_id join studios st on st.id = t.studio_id where s.id = :'session';
\echo '== was anything saved (pages opened again)'
explain (analyze, costs off, timing off, summary on) select count(*) || ' ' || coalesce(max(change::text::numeric), 0) from studio_changes where studio_id = :'studio';
\echo '== a ladder'
explain (analyze, costs off, timing off, summary on) select * from songs s cross join students t left join ladder_choices c on c.studio_id = s.studio_id and c.song_id = s.id and c.student_id = t.id where s.id = :'song' and t.id = :'student' and s.studio_id = :'studio' and t.studio_id = :'studio';
\echo '== the desk: fifty songs'
explain (analyze, costs off, timing off, summary on) select id, title, key, tempo, meter, chord_count, problem_count, chart_stamp, tags from songs where studio_id = :'studio' order by title, id limit 51;
\echo '== what is arranged of them'
explain (analyze, costs off, timing off, summary on) select * from arranged_ladders where studio_id = :'studio' and song_id in (select id from songs where studio_id = :'studio' order by title, id limit 50);
\echo '== Today: what was practised this week'
explain (analyze, costs off, timing off, summary on) select student_id, at, minutes from practice_entries where studio_id = :'studio' and ended_at is null and kind = 'Time' and at > now() - interval '7 days';
\echo '== a log'
explain (analyze, costs off, timing off, summary on) select * from practice_entries where studio_id = :'studio' and student_id = :'student' order by at desc limit 50;
\echo '== a phone comes by its link'
explain (analyze, costs off, timing off, summary on) select * from student_links l where digest = :'digest' and revoked_at is null and exists (select from studios s where s.id = l.studio_id and s.closed_at is null);
