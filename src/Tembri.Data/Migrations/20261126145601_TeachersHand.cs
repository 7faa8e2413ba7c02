using System;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261126145601_TeachersHand")]
    public partial class TeachersHand : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "wishes",
                table: "studios",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "wishes",
                table: "students",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AlterColumn<string>(
                name: "chord",
                table: "locked_shapes",
                type: "character varying(240)",
                maxLength: 240,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(40)",
                oldMaxLength: 40);

            migrationBuilder.AddColumn<int>(
                name: "state_number",
                table: "ladder_choices",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "wishes",
                table: "ladder_choices",
                type: "text",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "hand_versions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    chart_text = table.Column<string>(type: "text", nullable: false),
                    capo = table.Column<int>(type: "integer", nullable: false),
                    shapes = table.Column<string>(type: "text", nullable: false),
                    right_hand = table.Column<int>(type: "integer", nullable: false),
                    changed_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_hand_versions", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_hand_versions_songs_studio_id_song_id",
                        columns: x => new { x.studio_id, x.song_id },
                        principalTable: "songs",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_hand_versions_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_hand_versions_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "ladder_states",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    before = table.Column<int>(type: "integer", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    what = table.Column<string>(type: "character varying(160)", maxLength: 160, nullable: false),
                    decisions = table.Column<string>(type: "text", nullable: false),
                    wider = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_ladder_states", x => new { x.studio_id, x.song_id, x.student_id, x.number });
                    table.ForeignKey(
                        name: "fk_ladder_states_songs_studio_id_song_id",
                        columns: x => new { x.studio_id, x.song_id },
                        principalTable: "songs",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_ladder_states_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_ladder_states_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "practice_entries",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    kind = table.Column<string>(type: "character varying(10)", maxLength: 10, nullable: false),
                    rung = table.Column<int>(type: "integer", nullable: false),
                    text = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: false),
                    tempo = table.Column<int>(type: "integer", nullable: true),
                    from_frets = table.Column<int[]>(type: "integer[]", nullable: true),
                    to_frets = table.Column<int[]>(type: "integer[]", nullable: true),
                    count = table.Column<int>(type: "integer", nullable: true),
                    seconds = table.Column<int>(type: "integer", nullable: true),
                    request_key = table.Column<Guid>(type: "uuid", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_practice_entries", x => new { x.studio_id, x.id });
                    table.ForeignKey(
                        name: "fk_practice_entries_songs_studio_id_song_id",
                        columns: x => new { x.studio_id, x.song_id },
                        principalTable: "songs",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_practice_entries_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_practice_entries_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_hand_versions_studio_id_song_id_student_id",
                table: "hand_versions",
                columns: new[] { "studio_id", "song_id", "student_id" });

            migrationBuilder.CreateIndex(
                name: "ix_hand_versions_studio_id_student_id",
                table: "hand_versions",
                columns: new[] { "studio_id", "student_id" });

            migrationBuilder.CreateIndex(
                name: "ix_ladder_states_studio_id_student_id",
                table: "ladder_states",
                columns: new[] { "studio_id", "student_id" });

            migrationBuilder.CreateIndex(
                name: "ix_practice_entries_studio_id_request_key",
                table: "practice_entries",
                columns: new[] { "studio_id", "request_key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_practice_entries_studio_id_song_id",
                table: "practice_entries",
                columns: new[] { "studio_id", "song_id" });

            migrationBuilder.CreateIndex(
                name: "ix_practice_entries_studio_id_student_id_at",
                table: "practice_entries",
                columns: new[] { "studio_id", "student_id", "at" });

            foreach (var table in new[] { "hand_versions", "ladder_states", "practice_entries" })
            {
                migrationBuilder.Sql($"alter table {table} enable row level security");
                migrationBuilder.Sql($"alter table {table} force row level security");
                migrationBuilder.Sql($"create policy own_studio on {table} using (studio_id = nullif(current_setting('tembri.studio', true), '')::uuid)");
            }
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "hand_versions");

            migrationBuilder.DropTable(
                name: "ladder_states");

            migrationBuilder.DropTable(
                name: "practice_entries");

            migrationBuilder.DropColumn(
                name: "wishes",
                table: "studios");

            migrationBuilder.DropColumn(
                name: "wishes",
                table: "students");

            migrationBuilder.DropColumn(
                name: "state_number",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "wishes",
                table: "ladder_choices");

            migrationBuilder.AlterColumn<string>(
                name: "chord",
                table: "locked_shapes",
                type: "character varying(40)",
                maxLength: 40,
                nullable: false,
                oldClrType: typeof(string),
                oldType: "character varying(240)",
                oldMaxLength: 240);
        }

        /// <summary>What was before is told apart only by a model that says which version it is of.</summary>
        protected override void BuildTargetModel(ModelBuilder modelBuilder) =>
            modelBuilder.HasAnnotation("ProductVersion", "10.0.12");
    }
}
