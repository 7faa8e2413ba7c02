using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261127130054_OtherTunings")]
    public partial class OtherTunings : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_shape",
                table: "locked_shapes");

            migrationBuilder.AddColumn<string>(
                name: "guitar_strings",
                table: "students",
                type: "character varying(40)",
                maxLength: 40,
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "strings",
                table: "locked_shapes",
                type: "character varying(40)",
                maxLength: 40,
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "strings",
                table: "ladder_choices",
                type: "character varying(40)",
                maxLength: 40,
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "strings",
                table: "hand_versions",
                type: "character varying(40)",
                maxLength: 40,
                nullable: true);

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_shape",
                table: "locked_shapes",
                columns: new[] { "studio_id", "song_id", "student_id", "rung", "chord", "shape_tonic", "capo", "tuning", "strings" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_shape",
                table: "locked_shapes");

            migrationBuilder.DropColumn(
                name: "guitar_strings",
                table: "students");

            migrationBuilder.DropColumn(
                name: "strings",
                table: "locked_shapes");

            migrationBuilder.DropColumn(
                name: "strings",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "strings",
                table: "hand_versions");

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_shape",
                table: "locked_shapes",
                columns: new[] { "studio_id", "song_id", "student_id", "rung", "chord", "shape_tonic", "capo", "tuning" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);
        }
    }
}
