using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261125083351_StudioSettings")]
    public partial class StudioSettings : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "frets_from_nut",
                table: "studios",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "note_names",
                table: "studios",
                type: "character varying(10)",
                maxLength: 10,
                nullable: false,
                defaultValue: "AsKey");

            migrationBuilder.AddColumn<int[]>(
                name: "tunings",
                table: "studios",
                type: "integer[]",
                nullable: false,
                defaultValue: new[] { 0, -1, -2 });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "frets_from_nut",
                table: "studios");

            migrationBuilder.DropColumn(
                name: "note_names",
                table: "studios");

            migrationBuilder.DropColumn(
                name: "tunings",
                table: "studios");
        }
    }
}
