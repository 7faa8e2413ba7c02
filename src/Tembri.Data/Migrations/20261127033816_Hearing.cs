using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261127033816_Hearing")]
    public partial class Hearing : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "song_hearings",
                columns: table => new
                {
                    song_id = table.Column<Guid>(type: "uuid", nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    findings = table.Column<string>(type: "text", nullable: false),
                    heard_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_song_hearings", x => new { x.studio_id, x.song_id });
                    table.ForeignKey(
                        name: "fk_song_hearings_songs_studio_id_song_id",
                        columns: x => new { x.studio_id, x.song_id },
                        principalTable: "songs",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_song_hearings_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });
            migrationBuilder.Sql("alter table song_hearings enable row level security");
            migrationBuilder.Sql("create policy own_studio on song_hearings using (studio_id = nullif(current_setting('tembri.studio', true), '')::uuid)");
            migrationBuilder.Sql("alter table song_hearings force row level security");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "song_hearings");
        }
    }
}
