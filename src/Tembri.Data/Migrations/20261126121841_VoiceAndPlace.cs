using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261126121841_VoiceAndPlace")]
    public partial class VoiceAndPlace : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "capo_before",
                table: "ladder_choices",
                type: "integer",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "capo_is_of_shapes",
                table: "ladder_choices",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<bool>(
                name: "capo_up",
                table: "ladder_choices",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<string>(
                name: "tune",
                table: "ladder_choices",
                type: "character varying(24)",
                maxLength: 24,
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "voice",
                table: "ladder_choices",
                type: "character varying(24)",
                maxLength: 24,
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "capo_before",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "capo_is_of_shapes",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "capo_up",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "tune",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "voice",
                table: "ladder_choices");
        }
    }
}
