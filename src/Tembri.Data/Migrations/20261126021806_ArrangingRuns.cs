using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261126021806_ArrangingRuns")]
    public partial class ArrangingRuns : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_capo_",
                table: "locked_shapes");

            migrationBuilder.RenameColumn(
                name: "ordered_at",
                table: "arranging_orders",
                newName: "due_at");

            migrationBuilder.CreateTable(
                name: "arranging_runs",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    run = table.Column<Guid>(type: "uuid", nullable: false),
                    due_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_arranging_runs", x => x.studio_id);
                    table.ForeignKey(
                        name: "fk_arranging_runs_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_shape",
                table: "locked_shapes",
                columns: new[] { "studio_id", "song_id", "student_id", "rung", "chord", "shape_tonic", "capo", "tuning" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);

            migrationBuilder.CreateIndex(
                name: "ix_arranging_orders_studio_id_due_at",
                table: "arranging_orders",
                columns: new[] { "studio_id", "due_at" });

            migrationBuilder.Sql("alter table arranging_runs enable row level security");
            migrationBuilder.Sql("alter table arranging_runs force row level security");
            migrationBuilder.Sql("create policy own_studio on arranging_runs using (studio_id = nullif(current_setting('tembri.studio', true), '')::uuid)");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "arranging_runs");

            migrationBuilder.DropIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_shape",
                table: "locked_shapes");

            migrationBuilder.DropIndex(
                name: "ix_arranging_orders_studio_id_due_at",
                table: "arranging_orders");

            migrationBuilder.RenameColumn(
                name: "due_at",
                table: "arranging_orders",
                newName: "ordered_at");

            migrationBuilder.CreateIndex(
                name: "ix_locked_shapes_studio_id_song_id_student_id_rung_chord_capo_",
                table: "locked_shapes",
                columns: new[] { "studio_id", "song_id", "student_id", "rung", "chord", "capo", "tuning" },
                unique: true)
                .Annotation("Npgsql:NullsDistinct", false);
        }
    }
}
