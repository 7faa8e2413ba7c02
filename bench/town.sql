-- Many studios for measuring, made of the demo studio: bench/town runs it as the database's superuser, studios :from to :to, each with :songs songs and :students students.
-- Every song has a title and so a chart and a stamp of its own; what is arranged of it is the demo song's, which differs in nothing but the title. Practice is that of six
-- weeks of a demo student. Teachers are teacher-N@town.example with the demo's password; the secret of a student's link is made of studio and number (see bench/crowd).
\set ON_ERROR_STOP 1
begin;
set local session_replication_role = replica;   -- what is copied fits together; nothing is checked row by row
set local synchronous_commit = off;
create function pg_temp.name_of(what text) returns uuid immutable language sql as $$ select md5('town ' || what)::uuid $$;
create temp table base as select id as studio from studios where is_demo;
create temp table base_songs as select row_number() over (order by title) - 1 as n, songs.* from songs, base where studio_id = studio;
create temp table base_students as select row_number() over (order by nickname) - 1 as n, students.* from students, base where studio_id = studio;
create temp table town on commit drop as select s, pg_temp.name_of('studio ' || s) as studio from generate_series(:from, :to) s;
create temp table new_songs on commit drop as
  select s, studio, k, pg_temp.name_of(format('song %s %s', s, k)) as song, b.id as was, b.title || ' ' || s || '.' || k as title,
         regexp_replace(b.chart_text, '^title: [^\n]*', 'title: ' || replace(b.title, '\', '') || ' ' || s || '.' || k) as chart_text
  from town cross join generate_series(1, :songs) k join base_songs b on b.n = (k - 1) % (select count(*) from base_songs);
create temp table new_students on commit drop as
  select s, studio, k, pg_temp.name_of(format('student %s %s', s, k)) as student, b.id as was, b.nickname || case when k > 6 then ' ' || k else '' end as nickname
  from town cross join generate_series(1, :students) k join base_students b on b.n = (k - 1) % (select count(*) from base_students);
create index on new_songs (studio, was);

insert into studios (id, name, created_at, is_demo, first_hour_done)
  select studio, 'Studio ' || s, now(), false, true from town;
insert into teachers (id, studio_id, user_name, normalized_user_name, email, normalized_email, email_confirmed, password_hash, security_stamp, phone_number_confirmed, two_factor_enabled, lockout_enabled, access_failed_count, opened_at)
  select pg_temp.name_of('teacher ' || s), studio, 'town' || s, 'TOWN' || s, 'teacher-' || s || '@town.example', 'TEACHER-' || s || '@TOWN.EXAMPLE', true, t.password_hash, md5('stamp ' || s), false, false, false, 0, now()
  from town, (select password_hash from teachers, base where studio_id = studio limit 1) t;
insert into songs (id, studio_id, title, chart_text, key, tempo, meter, chord_count, problem_count, changed_at, chart_stamp, is_example, search_text, tags)
  select n.song, n.studio, n.title, n.chart_text, b.key, b.tempo, b.meter, b.chord_count, b.problem_count, now(), encode(sha256(convert_to(n.chart_text, 'UTF8')), 'hex'), false, b.search_text, b.tags
  from new_songs n join base_songs b on b.id = n.was;
insert into song_revisions (studio_id, song_id, number, chart_text, written_at, left_at)
  select studio, song, 1, chart_text, now(), now() from new_songs;
insert into students (id, studio_id, nickname, hand_id, guitar_id, left_handed, thumb, barres, changed_at, skills, wishes, age_group, guitar_measures, minutes_a_day, sings_along, spread_mm, uses_practice, tags)
  select n.student, n.studio, n.nickname, b.hand_id, b.guitar_id, b.left_handed, b.thumb, b.barres, now(), b.skills, b.wishes, b.age_group, b.guitar_measures, b.minutes_a_day, b.sings_along, b.spread_mm, b.uses_practice, b.tags
  from new_students n join base_students b on b.id = n.was;
insert into student_progresses (studio_id, student_id, learnt, plan_wishes, pain_cleared_at, hurt_at, practised_at)
  select n.studio, n.student, p.learnt, p.plan_wishes, p.pain_cleared_at, p.hurt_at, p.practised_at from new_students n join student_progresses p on p.student_id = n.was;
insert into student_links (id, studio_id, student_id, digest, created_at, ends_at)
  select pg_temp.name_of(format('link %s %s', s, k)), studio, student, sha256(convert_to(translate(rtrim(encode(decode(md5(format('town secret %s %s', s, k)), 'hex'), 'base64'), '='), '+/', '-_'), 'UTF8')), now(), now() + interval '90 days' from new_students;
insert into arranged_ladders (studio_id, song_id, kind, decisions, chart_stamp, model, outlines, techniques)
  select n.studio, n.song, a.kind, a.decisions, encode(sha256(convert_to(n.chart_text, 'UTF8')), 'hex'), a.model, a.outlines, a.techniques
  from new_songs n join arranged_ladders a on a.song_id = n.was join base_songs b on b.id = n.was and a.chart_stamp = b.chart_stamp;
insert into song_works (id, studio_id, student_id, song_id, rung, started_at, ended_at, why)
  select pg_temp.name_of(format('work %s %s', n.student, w.id)), n.studio, n.student, g.song, w.rung, w.started_at, w.ended_at, w.why
  from new_students n join song_works w on w.student_id = n.was join lateral (select song from new_songs x where x.studio = n.studio and x.was = w.song_id order by k limit 1) g on true;
insert into practice_entries (id, studio_id, student_id, song_id, at, kind, rung, text, tempo, from_frets, to_frets, count, seconds, by, capo, felt, free_beats, from_fingers, to_fingers, guitar, hurt, meter, minutes, pattern, swing, tries, went)
  select pg_temp.name_of(n.student || ' ' || e.id), n.studio, n.student, g.song, e.at, e.kind, e.rung, e.text, e.tempo, e.from_frets, e.to_frets, e.count, e.seconds, e.by, e.capo, e.felt, e.free_beats, e.from_fingers, e.to_fingers, e.guitar, e.hurt, e.meter, e.minutes, e.pattern, e.swing, e.tries, e.went
  from new_students n join practice_entries e on e.student_id = n.was and e.ended_at is null
  left join lateral (select song from new_songs x where x.studio = n.studio and x.was = e.song_id order by k limit 1) g on true;
insert into lessons (id, studio_id, day, at, minutes, every_weeks)
  select pg_temp.name_of(format('lesson %s %s', s, k)), studio, current_date - (k % 7), time '14:00' + (k % 10) * interval '30 minutes', 30, 1 from new_students;
insert into lesson_students (studio_id, lesson_id, student_id) select studio, pg_temp.name_of(format('lesson %s %s', s, k)), student from new_students;
commit;
