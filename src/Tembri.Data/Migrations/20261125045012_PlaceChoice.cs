using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261125045012_PlaceChoice")]
    public partial class PlaceChoice : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "tuning",
                table: "locked_shapes",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "tuning",
                table: "ladder_choices",
                type: "integer",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "tuning",
                table: "locked_shapes");

            migrationBuilder.DropColumn(
                name: "tuning",
                table: "ladder_choices");
        }
    }
}
