using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261127101320_StudioChanges")]
    public partial class StudioChanges : Migration
    {
        private static readonly string[] Tables =
        [
            "songs", "song_revisions", "song_hearings", "students", "ladder_choices", "locked_shapes", "ladder_states", "hand_versions", "practice_entries", "student_progresses", "song_works",
            "studio_guitars", "student_sights", "lessons", "lesson_students", "lesson_exceptions", "holidays", "song_sets", "sheet_jobs", "arranged_ladders", "arranging_orders", "arranging_runs",
        ];

        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            // A line for each transaction that touched a studio. How many there are and which is the last tells whether something was saved since a page was made;
            // lines are only added and, when they are old, removed, so that nobody waits for anybody.
            migrationBuilder.Sql("""
                create table studio_changes (studio_id uuid not null, change xid8 not null, at timestamptz not null default now(), primary key (studio_id, change));
                create index ix_studio_changes_at on studio_changes (at);
                create function note_change() returns trigger language plpgsql as $$
                declare studio uuid := nullif(current_setting('tembri.studio', true), '')::uuid;
                begin
                  if studio is not null then insert into studio_changes (studio_id, change) values (studio, pg_current_xact_id()) on conflict do nothing; end if;
                  return null;
                end $$;
                create function note_studio_change() returns trigger language plpgsql as $$
                begin
                  insert into studio_changes (studio_id, change) values (new.id, pg_current_xact_id()) on conflict do nothing;
                  return null;
                end $$;
                create trigger note_change after insert or update on studios for each row execute function note_studio_change();
                """);
            foreach (var table in Tables) migrationBuilder.Sql($"create trigger note_change after insert or update or delete on {table} for each statement execute function note_change()");
}

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            foreach (var table in Tables) migrationBuilder.Sql($"drop trigger note_change on {table}");
            migrationBuilder.Sql("drop trigger note_change on studios; drop function note_change(); drop function note_studio_change(); drop table studio_changes");
}
    }
}
