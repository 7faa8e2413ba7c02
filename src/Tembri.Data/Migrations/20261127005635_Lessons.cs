using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261127005635_Lessons")]
    public partial class Lessons : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "first_hour_done",
                table: "studios",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "sheets",
                table: "studios",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string[]>(
                name: "tags",
                table: "students",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'");

            migrationBuilder.AddColumn<bool>(
                name: "is_example",
                table: "songs",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "search_text",
                table: "songs",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string[]>(
                name: "tags",
                table: "songs",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'");

            migrationBuilder.AddColumn<string>(
                name: "techniques",
                table: "arranged_ladders",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "api_keys",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    digest = table.Column<byte[]>(type: "bytea", nullable: false),
                    created_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    revoked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    seen_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_api_keys", x => x.id);
                    table.ForeignKey(
                        name: "fk_api_keys_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "holidays",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    from = table.Column<DateOnly>(type: "date", nullable: false),
                    to = table.Column<DateOnly>(type: "date", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_holidays", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_holidays_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "lessons",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    day = table.Column<DateOnly>(type: "date", nullable: false),
                    at = table.Column<TimeOnly>(type: "time without time zone", nullable: false),
                    minutes = table.Column<int>(type: "integer", nullable: false),
                    every_weeks = table.Column<int>(type: "integer", nullable: false),
                    until = table.Column<DateOnly>(type: "date", nullable: true),
                    request_key = table.Column<Guid>(type: "uuid", nullable: true),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lessons", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_lessons_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "sheet_jobs",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    sheets = table.Column<string>(type: "text", nullable: false),
                    all = table.Column<int>(type: "integer", nullable: false),
                    done = table.Column<int>(type: "integer", nullable: false),
                    created_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    is_cancelled = table.Column<bool>(type: "boolean", nullable: false),
                    pdf = table.Column<byte[]>(type: "bytea", nullable: true),
                    left = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sheet_jobs", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_sheet_jobs_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "song_sets",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    on = table.Column<DateOnly>(type: "date", nullable: true),
                    student_id = table.Column<Guid>(type: "uuid", nullable: true),
                    songs = table.Column<string>(type: "text", nullable: false),
                    changed_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    request_key = table.Column<Guid>(type: "uuid", nullable: true),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_song_sets", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_song_sets_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" });
                    table.ForeignKey(
                        name: "fk_song_sets_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "lesson_exceptions",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lesson_id = table.Column<Guid>(type: "uuid", nullable: false),
                    on = table.Column<DateOnly>(type: "date", nullable: false),
                    moved_to = table.Column<DateOnly>(type: "date", nullable: true),
                    moved_at = table.Column<TimeOnly>(type: "time without time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lesson_exceptions", x => new { x.studio_id, x.lesson_id, x.on });
                    table.ForeignKey(
                        name: "fk_lesson_exceptions_lessons_studio_id_lesson_id",
                        columns: x => new { x.studio_id, x.lesson_id },
                        principalTable: "lessons",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_lesson_exceptions_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "lesson_students",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lesson_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lesson_students", x => new { x.studio_id, x.lesson_id, x.student_id });
                    table.ForeignKey(
                        name: "fk_lesson_students_lessons_studio_id_lesson_id",
                        columns: x => new { x.studio_id, x.lesson_id },
                        principalTable: "lessons",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_lesson_students_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_lesson_students_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_api_keys_digest",
                table: "api_keys",
                column: "digest",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_api_keys_studio_id",
                table: "api_keys",
                column: "studio_id");

            migrationBuilder.CreateIndex(
                name: "ix_lesson_students_studio_id_student_id",
                table: "lesson_students",
                columns: new[] { "studio_id", "student_id" });

            migrationBuilder.CreateIndex(
                name: "ix_lessons_studio_id_request_key",
                table: "lessons",
                columns: new[] { "studio_id", "request_key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_song_sets_studio_id_request_key",
                table: "song_sets",
                columns: new[] { "studio_id", "request_key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_song_sets_studio_id_student_id",
                table: "song_sets",
                columns: new[] { "studio_id", "student_id" });

            // A set stays when whoever plays it goes: the student alone is emptied, the studio is not.
            migrationBuilder.Sql("alter table song_sets drop constraint fk_song_sets_students_studio_id_student_id");
            migrationBuilder.Sql("alter table song_sets add constraint fk_song_sets_students_studio_id_student_id foreign key (studio_id, student_id) references students (studio_id, id) on delete set null (student_id)");

            // What is looked for. A studio's wall keeps the words' own index from being used (its operators may leak), so the parsed words are stored, and a studio's songs are looked through.
            migrationBuilder.Sql("create extension if not exists pg_trgm");
            migrationBuilder.Sql("alter table songs add column search_words tsvector generated always as (to_tsvector('simple', search_text)) stored");

            foreach (var table in new[] { "lessons", "lesson_students", "lesson_exceptions", "holidays", "song_sets", "sheet_jobs" })
            {
                migrationBuilder.Sql($"alter table {table} enable row level security");
                migrationBuilder.Sql($"create policy own_studio on {table} using (studio_id = nullif(current_setting('tembri.studio', true), '')::uuid)");
            }

            // Weekly lessons stood with the student; now they are rows, from the first such day on. The wall between studios is lifted for that moment.
            foreach (var table in new[] { "students", "songs" }) migrationBuilder.Sql($"alter table {table} no force row level security");
            migrationBuilder.Sql("""
                with made as (
                    select gen_random_uuid() as id, studio_id, id as student_id, lesson_at,
                        current_date - ((extract(dow from current_date)::int - array_position(array['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'], lesson_day::text) + 8) % 7) as first
                    from students where lesson_day is not null and lesson_at is not null),
                rows as (insert into lessons (id, studio_id, day, at, minutes, every_weeks) select id, studio_id, first, lesson_at, 30, 1 from made returning id)
                insert into lesson_students (studio_id, lesson_id, student_id) select studio_id, id, student_id from made
                """);
            // Songs are found by their text until they are saved again.
            migrationBuilder.Sql("update songs set search_text = lower(left(title || ' ' || chart_text, 20000))");
            foreach (var table in new[] { "students", "songs", "lessons", "lesson_students", "lesson_exceptions", "holidays", "song_sets", "sheet_jobs" }) migrationBuilder.Sql($"alter table {table} force row level security");

            migrationBuilder.DropColumn(
                name: "lesson_at",
                table: "students");

            migrationBuilder.DropColumn(
                name: "lesson_day",
                table: "students");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("alter table songs drop column search_words");

            migrationBuilder.DropTable(
                name: "api_keys");

            migrationBuilder.DropTable(
                name: "holidays");

            migrationBuilder.DropTable(
                name: "lesson_exceptions");

            migrationBuilder.DropTable(
                name: "lesson_students");

            migrationBuilder.DropTable(
                name: "sheet_jobs");

            migrationBuilder.DropTable(
                name: "song_sets");

            migrationBuilder.DropTable(
                name: "lessons");

            migrationBuilder.DropColumn(
                name: "first_hour_done",
                table: "studios");

            migrationBuilder.DropColumn(
                name: "sheets",
                table: "studios");

            migrationBuilder.DropColumn(
                name: "tags",
                table: "students");

            migrationBuilder.DropColumn(
                name: "is_example",
                table: "songs");

            migrationBuilder.DropColumn(
                name: "search_text",
                table: "songs");

            migrationBuilder.DropColumn(
                name: "tags",
                table: "songs");

            migrationBuilder.DropColumn(
                name: "techniques",
                table: "arranged_ladders");

            migrationBuilder.AddColumn<TimeOnly>(
                name: "lesson_at",
                table: "students",
                type: "time without time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "lesson_day",
                table: "students",
                type: "character varying(10)",
                maxLength: 10,
                nullable: true);
        }
    }
}
