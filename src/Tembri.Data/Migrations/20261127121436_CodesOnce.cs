using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261127121436_CodesOnce")]
    public partial class CodesOnce : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "last_code_step",
                table: "teachers",
                type: "bigint",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "last_code_step",
                table: "teachers");
        }
    }
}
