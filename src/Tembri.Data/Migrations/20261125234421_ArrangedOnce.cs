using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261125234421_ArrangedOnce")]
    public partial class ArrangedOnce : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_ladder_choices_songs_song_id",
                table: "ladder_choices");

            migrationBuilder.DropForeignKey(
                name: "fk_ladder_choices_students_student_id",
                table: "ladder_choices");

            migrationBuilder.DropForeignKey(
                name: "fk_locked_shapes_songs_song_id",
                table: "locked_shapes");

            migrationBuilder.DropForeignKey(
                name: "fk_locked_shapes_students_student_id",
                table: "locked_shapes");

            migrationBuilder.DropTable(
                name: "grades");

            migrationBuilder.DropPrimaryKey(
                name: "pk_students",
                table: "students");

            migrationBuilder.DropPrimaryKey(
                name: "pk_songs",
                table: "songs");

            migrationBuilder.DropPrimaryKey(
                name: "pk_locked_shapes",
                table: "locked_shapes");

            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_song_id_student_id_rung_chord",
                table: "locked_shapes");

            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_student_id",
                table: "locked_shapes");

            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_studio_id",
                table: "locked_shapes");

            migrationBuilder.DropPrimaryKey(
                name: "pk_ladder_choices",
                table: "ladder_choices");

            migrationBuilder.DropIndex(
                name: "ix_ladder_choices_song_id_student_id",
                table: "ladder_choices");

            migrationBuilder.DropIndex(
                name: "ix_ladder_choices_student_id",
                table: "ladder_choices");

            migrationBuilder.DropIndex(
                name: "ix_ladder_choices_studio_id",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "id",
                table: "ladder_choices");

            migrationBuilder.RenameColumn(
                name: "company",
                table: "ladder_choices",
                newName: "accompaniment");

            migrationBuilder.AddColumn<string>(
                name: "chart_stamp",
                table: "songs",
                type: "character varying(64)",
                maxLength: 64,
                nullable: false,
                defaultValue: "");

            migrationBuilder.Sql("update songs set chart_stamp = encode(sha256(convert_to(chart_text, 'UTF8')), 'hex')");

            migrationBuilder.AddColumn<int>(
                name: "shape_tonic",
                table: "locked_shapes",
                type: "integer",
                nullable: true);

            migrationBuilder.AddPrimaryKey(
                name: "pk_students",
                table: "students",
                columns: new[] { "studio_id", "id" });

            migrationBuilder.AddPrimaryKey(
                name: "pk_songs",
                table: "songs",
                columns: new[] { "studio_id", "id" });

            migrationBuilder.AddPrimaryKey(
                name: "pk_locked_shapes",
                table: "locked_shapes",
                columns: new[] { "studio_id", "id" });

            migrationBuilder.AddPrimaryKey(
                name: "pk_ladder_choices",
                table: "ladder_choices",
                columns: new[] { "studio_id", "song_id", "student_id" });

            migrationBuilder.CreateTable(
                name: "arranged_ladders",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    decisions = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    chart_stamp = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    model = table.Column<int>(type: "integer", nullable: false),
                    outlines = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_arranged_ladders", x => new { x.studio_id, x.song_id, x.kind, x.decisions });
                    table.ForeignKey(
                        name: "fk_arranged_ladders_songs_studio_id_song_id",
                        columns: x => new { x.studio_id, x.song_id },
                        principalTable: "songs",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_arranged_ladders_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "arranging_orders",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    ordered_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_arranging_orders", x => new { x.studio_id, x.song_id });
                    table.ForeignKey(
                        name: "fk_arranging_orders_songs_studio_id_song_id",
                        columns: x => new { x.studio_id, x.song_id },
                        principalTable: "songs",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_arranging_orders_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_capo_",
                table: "locked_shapes",
                columns: new[] { "studio_id", "song_id", "student_id", "rung", "chord", "capo", "tuning" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_studio_id_student_id",
                table: "locked_shapes",
                columns: new[] { "studio_id", "student_id" });

            migrationBuilder.CreateIndex(
                name: "ix_ladder_choices_studio_id_student_id",
                table: "ladder_choices",
                columns: new[] { "studio_id", "student_id" });

            migrationBuilder.AddForeignKey(
                name: "fk_ladder_choices_songs_studio_id_song_id",
                table: "ladder_choices",
                columns: new[] { "studio_id", "song_id" },
                principalTable: "songs",
                principalColumns: new[] { "studio_id", "id" },
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_ladder_choices_students_studio_id_student_id",
                table: "ladder_choices",
                columns: new[] { "studio_id", "student_id" },
                principalTable: "students",
                principalColumns: new[] { "studio_id", "id" },
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_locked_shapes_songs_studio_id_song_id",
                table: "locked_shapes",
                columns: new[] { "studio_id", "song_id" },
                principalTable: "songs",
                principalColumns: new[] { "studio_id", "id" },
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_locked_shapes_students_studio_id_student_id",
                table: "locked_shapes",
                columns: new[] { "studio_id", "student_id" },
                principalTable: "students",
                principalColumns: new[] { "studio_id", "id" },
                onDelete: ReferentialAction.Cascade);

            // A second wall behind the filters of the queries: a connection sees the rows of the studio it was opened for, and none without one.
            foreach (var table in OfAStudio)
            {
                migrationBuilder.Sql($"alter table {table} enable row level security");
                migrationBuilder.Sql($"alter table {table} force row level security");
                migrationBuilder.Sql($"create policy own_studio on {table} using (studio_id = nullif(current_setting('tembri.studio', true), '')::uuid)");
            }
        }

        private static readonly string[] OfAStudio = ["songs", "students", "ladder_choices", "locked_shapes", "arranged_ladders", "arranging_orders"];

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            foreach (var table in OfAStudio)
            {
                migrationBuilder.Sql($"drop policy own_studio on {table}");
                migrationBuilder.Sql($"alter table {table} no force row level security");
                migrationBuilder.Sql($"alter table {table} disable row level security");
            }

            migrationBuilder.DropForeignKey(
                name: "fk_ladder_choices_songs_studio_id_song_id",
                table: "ladder_choices");

            migrationBuilder.DropForeignKey(
                name: "fk_ladder_choices_students_studio_id_student_id",
                table: "ladder_choices");

            migrationBuilder.DropForeignKey(
                name: "fk_locked_shapes_songs_studio_id_song_id",
                table: "locked_shapes");

            migrationBuilder.DropForeignKey(
                name: "fk_locked_shapes_students_studio_id_student_id",
                table: "locked_shapes");

            migrationBuilder.DropTable(
                name: "arranged_ladders");

            migrationBuilder.DropTable(
                name: "arranging_orders");

            migrationBuilder.DropPrimaryKey(
                name: "pk_students",
                table: "students");

            migrationBuilder.DropPrimaryKey(
                name: "pk_songs",
                table: "songs");

            migrationBuilder.DropPrimaryKey(
                name: "pk_locked_shapes",
                table: "locked_shapes");

            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_capo_",
                table: "locked_shapes");

            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_studio_id_student_id",
                table: "locked_shapes");

            migrationBuilder.DropPrimaryKey(
                name: "pk_ladder_choices",
                table: "ladder_choices");

            migrationBuilder.DropIndex(
                name: "ix_ladder_choices_studio_id_student_id",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "chart_stamp",
                table: "songs");

            migrationBuilder.DropColumn(
                name: "shape_tonic",
                table: "locked_shapes");

            migrationBuilder.RenameColumn(
                name: "accompaniment",
                table: "ladder_choices",
                newName: "company");

            migrationBuilder.AddColumn<Guid>(
                name: "id",
                table: "ladder_choices",
                type: "uuid",
                nullable: false,
                defaultValue: new Guid("00000000-0000-0000-0000-000000000000"));

            migrationBuilder.AddPrimaryKey(
                name: "pk_students",
                table: "students",
                column: "id");

            migrationBuilder.AddPrimaryKey(
                name: "pk_songs",
                table: "songs",
                column: "id");

            migrationBuilder.AddPrimaryKey(
                name: "pk_locked_shapes",
                table: "locked_shapes",
                column: "id");

            migrationBuilder.AddPrimaryKey(
                name: "pk_ladder_choices",
                table: "ladder_choices",
                column: "id");

            migrationBuilder.CreateTable(
                name: "grades",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    capo = table.Column<int>(type: "integer", nullable: false),
                    stamp = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    working_rung = table.Column<int>(type: "integer", nullable: true),
                    rungs = table.Column<string>(type: "jsonb", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_grades", x => x.id);
                    table.ForeignKey(
                        name: "fk_grades_songs_song_id",
                        column: x => x.song_id,
                        principalTable: "songs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_grades_students_student_id",
                        column: x => x.student_id,
                        principalTable: "students",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_grades_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_song_id_student_id_rung_chord",
                table: "locked_shapes",
                columns: new[] { "song_id", "student_id", "rung", "chord" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_student_id",
                table: "locked_shapes",
                column: "student_id");

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_studio_id",
                table: "locked_shapes",
                column: "studio_id");

            migrationBuilder.CreateIndex(
                name: "ix_ladder_choices_song_id_student_id",
                table: "ladder_choices",
                columns: new[] { "song_id", "student_id" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_ladder_choices_student_id",
                table: "ladder_choices",
                column: "student_id");

            migrationBuilder.CreateIndex(
                name: "ix_ladder_choices_studio_id",
                table: "ladder_choices",
                column: "studio_id");

            migrationBuilder.CreateIndex(
                name: "ix_grades_song_id_student_id",
                table: "grades",
                columns: new[] { "song_id", "student_id" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_grades_student_id",
                table: "grades",
                column: "student_id");

            migrationBuilder.CreateIndex(
                name: "ix_grades_studio_id",
                table: "grades",
                column: "studio_id");

            migrationBuilder.AddForeignKey(
                name: "fk_ladder_choices_songs_song_id",
                table: "ladder_choices",
                column: "song_id",
                principalTable: "songs",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_ladder_choices_students_student_id",
                table: "ladder_choices",
                column: "student_id",
                principalTable: "students",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_locked_shapes_songs_song_id",
                table: "locked_shapes",
                column: "song_id",
                principalTable: "songs",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);

            migrationBuilder.AddForeignKey(
                name: "fk_locked_shapes_students_student_id",
                table: "locked_shapes",
                column: "student_id",
                principalTable: "students",
                principalColumn: "id",
                onDelete: ReferentialAction.Cascade);
        }
    }
}
