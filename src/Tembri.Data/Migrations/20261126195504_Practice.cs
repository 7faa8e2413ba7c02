using System;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261126195504_Practice")]
    public partial class Practice : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_practice_entries_songs_studio_id_song_id",
                table: "practice_entries");

            migrationBuilder.AddColumn<int>(
                name: "keeps_months",
                table: "studios",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "age_group",
                table: "students",
                type: "character varying(10)",
                maxLength: 10,
                nullable: false,
                defaultValue: "Grown");

            migrationBuilder.AddColumn<DateOnly>(
                name: "goal_on",
                table: "students",
                type: "date",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "goal_rung",
                table: "students",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "goal_song_id",
                table: "students",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "guessed_at",
                table: "students",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: new DateTimeOffset(2000, 1, 1, 0, 0, 0, TimeSpan.Zero));

            migrationBuilder.AddColumn<string>(
                name: "guitar_measures",
                table: "students",
                type: "text",
                nullable: false,
                defaultValue: "");

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

            migrationBuilder.AddColumn<int>(
                name: "minutes_a_day",
                table: "students",
                type: "integer",
                nullable: false,
                defaultValue: 15);

            migrationBuilder.AddColumn<Guid>(
                name: "own_guitar_id",
                table: "students",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "sings_along",
                table: "students",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<double>(
                name: "spread_mm",
                table: "students",
                type: "double precision",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "uses_practice",
                table: "students",
                type: "boolean",
                nullable: false,
                defaultValue: true);

            migrationBuilder.AlterColumn<Guid>(
                name: "song_id",
                table: "practice_entries",
                type: "uuid",
                nullable: true,
                oldClrType: typeof(Guid),
                oldType: "uuid");

            migrationBuilder.AddColumn<string>(
                name: "by",
                table: "practice_entries",
                type: "character varying(10)",
                maxLength: 10,
                nullable: false,
                defaultValue: "Teacher");

            migrationBuilder.AddColumn<int>(
                name: "capo",
                table: "practice_entries",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<Guid>(
                name: "corrects",
                table: "practice_entries",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "ended_at",
                table: "practice_entries",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "ended_by",
                table: "practice_entries",
                type: "character varying(10)",
                maxLength: 10,
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "felt",
                table: "practice_entries",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<double>(
                name: "free_beats",
                table: "practice_entries",
                type: "double precision",
                nullable: true);

            migrationBuilder.AddColumn<int[]>(
                name: "from_fingers",
                table: "practice_entries",
                type: "integer[]",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "guitar",
                table: "practice_entries",
                type: "character varying(160)",
                maxLength: 160,
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "hurt",
                table: "practice_entries",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "meter",
                table: "practice_entries",
                type: "character varying(8)",
                maxLength: 8,
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "minutes",
                table: "practice_entries",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "pattern",
                table: "practice_entries",
                type: "character varying(200)",
                maxLength: 200,
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "swing",
                table: "practice_entries",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<int[]>(
                name: "to_fingers",
                table: "practice_entries",
                type: "integer[]",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "tries",
                table: "practice_entries",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "went",
                table: "practice_entries",
                type: "boolean",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "song_works",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    rung = table.Column<int>(type: "integer", nullable: false),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    why = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_song_works", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_song_works_songs_studio_id_song_id",
                        columns: x => new { x.studio_id, x.song_id },
                        principalTable: "songs",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_song_works_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_song_works_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "student_links",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    digest = table.Column<byte[]>(type: "bytea", nullable: false),
                    created_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    revoked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    seen_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_student_links", x => x.id);
                    table.ForeignKey(
                        name: "fk_student_links_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "student_progresses",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    learnt = table.Column<string>(type: "text", nullable: false),
                    plan_wishes = table.Column<string>(type: "text", nullable: false),
                    pain_cleared_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    hurt_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    practised_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_student_progresses", x => new { x.studio_id, x.student_id });
                    table.ForeignKey(
                        name: "fk_student_progresses_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_student_progresses_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "student_sights",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    day = table.Column<DateOnly>(type: "date", nullable: false),
                    who = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    what = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_student_sights", x => new { x.studio_id, x.student_id, x.day, x.who, x.what });
                    table.ForeignKey(
                        name: "fk_student_sights_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_student_sights_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "studio_guitars",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    measures = table.Column<string>(type: "text", nullable: false),
                    changed_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    request_key = table.Column<Guid>(type: "uuid", nullable: true),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_studio_guitars", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_studio_guitars_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_students_studio_id_own_guitar_id",
                table: "students",
                columns: new[] { "studio_id", "own_guitar_id" });

            migrationBuilder.CreateIndex(
                name: "ix_song_works_studio_id_song_id",
                table: "song_works",
                columns: new[] { "studio_id", "song_id" });

            migrationBuilder.CreateIndex(
                name: "ix_song_works_studio_id_student_id_song_id",
                table: "song_works",
                columns: new[] { "studio_id", "student_id", "song_id" },
                unique: true,
                filter: "ended_at is null");

            migrationBuilder.CreateIndex(
                name: "ix_student_links_digest",
                table: "student_links",
                column: "digest",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_student_links_studio_id_student_id",
                table: "student_links",
                columns: new[] { "studio_id", "student_id" });

            migrationBuilder.CreateIndex(
                name: "ix_studio_guitars_studio_id_request_key",
                table: "studio_guitars",
                columns: new[] { "studio_id", "request_key" },
                unique: true);

            // What was practised stays when its song goes: the song alone is emptied, the studio is not.
            migrationBuilder.Sql("alter table practice_entries add constraint fk_practice_entries_songs_studio_id_song_id foreign key (studio_id, song_id) references songs (studio_id, id) on delete set null (song_id)");

            migrationBuilder.AddForeignKey(
                name: "fk_students_studio_guitars_studio_id_own_guitar_id",
                table: "students",
                columns: new[] { "studio_id", "own_guitar_id" },
                principalTable: "studio_guitars",
                principalColumns: new[] { "studio_id", "id" });

            foreach (var table in new[] { "song_works", "studio_guitars", "student_progresses", "student_sights" })
            {
                migrationBuilder.Sql($"alter table {table} enable row level security");
                migrationBuilder.Sql($"alter table {table} force row level security");
                migrationBuilder.Sql($"create policy own_studio on {table} using (studio_id = nullif(current_setting('tembri.studio', true), '')::uuid)");
            }
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_practice_entries_songs_studio_id_song_id",
                table: "practice_entries");

            migrationBuilder.DropForeignKey(
                name: "fk_students_studio_guitars_studio_id_own_guitar_id",
                table: "students");

            migrationBuilder.DropTable(
                name: "song_works");

            migrationBuilder.DropTable(
                name: "student_links");

            migrationBuilder.DropTable(
                name: "student_progresses");

            migrationBuilder.DropTable(
                name: "student_sights");

            migrationBuilder.DropTable(
                name: "studio_guitars");

            migrationBuilder.DropIndex(
                name: "ix_students_studio_id_own_guitar_id",
                table: "students");

            migrationBuilder.DropColumn(
                name: "keeps_months",
                table: "studios");

            migrationBuilder.DropColumn(
                name: "age_group",
                table: "students");

            migrationBuilder.DropColumn(
                name: "goal_on",
                table: "students");

            migrationBuilder.DropColumn(
                name: "goal_rung",
                table: "students");

            migrationBuilder.DropColumn(
                name: "goal_song_id",
                table: "students");

            migrationBuilder.DropColumn(
                name: "guessed_at",
                table: "students");

            migrationBuilder.DropColumn(
                name: "guitar_measures",
                table: "students");

            migrationBuilder.DropColumn(
                name: "lesson_at",
                table: "students");

            migrationBuilder.DropColumn(
                name: "lesson_day",
                table: "students");

            migrationBuilder.DropColumn(
                name: "minutes_a_day",
                table: "students");

            migrationBuilder.DropColumn(
                name: "own_guitar_id",
                table: "students");

            migrationBuilder.DropColumn(
                name: "sings_along",
                table: "students");

            migrationBuilder.DropColumn(
                name: "spread_mm",
                table: "students");

            migrationBuilder.DropColumn(
                name: "uses_practice",
                table: "students");

            migrationBuilder.DropColumn(
                name: "by",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "capo",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "corrects",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "ended_at",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "ended_by",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "felt",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "free_beats",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "from_fingers",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "guitar",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "hurt",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "meter",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "minutes",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "pattern",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "swing",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "to_fingers",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "tries",
                table: "practice_entries");

            migrationBuilder.DropColumn(
                name: "went",
                table: "practice_entries");

            migrationBuilder.AlterColumn<Guid>(
                name: "song_id",
                table: "practice_entries",
                type: "uuid",
                nullable: false,
                defaultValue: new Guid("00000000-0000-0000-0000-000000000000"),
                oldClrType: typeof(Guid),
                oldType: "uuid",
                oldNullable: true);

            migrationBuilder.AddForeignKey(
                name: "fk_practice_entries_songs_studio_id_song_id",
                table: "practice_entries",
                columns: new[] { "studio_id", "song_id" },
                principalTable: "songs",
                principalColumns: new[] { "studio_id", "id" },
                onDelete: ReferentialAction.Cascade);
        }

        /// <summary>What was before is told apart only by a model that says which version it is of.</summary>
        protected override void BuildTargetModel(ModelBuilder modelBuilder) =>
            modelBuilder.HasAnnotation("ProductVersion", "10.0.12");
    }
}
