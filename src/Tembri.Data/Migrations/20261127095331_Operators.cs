using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261127095331_Operators")]
    public partial class Operators : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<bool>(
                name: "is_operator",
                table: "teachers",
                type: "boolean",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "closed_at",
                table: "studios",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "operator_acts",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    who = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    what = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    studio_id = table.Column<Guid>(type: "uuid", nullable: true),
                    studio_name = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    note = table.Column<string>(type: "character varying(400)", maxLength: 400, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_operator_acts", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_operator_acts_at",
                table: "operator_acts",
                column: "at");
            // The trail is only ever written on: not even the application's own role changes or removes a line.
            migrationBuilder.Sql("""
                create function keep_trail() returns trigger language plpgsql as $$ begin raise exception 'the trail of operators is not changed'; end $$;
                create trigger keep_trail before update or delete or truncate on operator_acts for each statement execute function keep_trail();
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "operator_acts");
            migrationBuilder.Sql("drop function keep_trail()");

            migrationBuilder.DropColumn(
                name: "is_operator",
                table: "teachers");

            migrationBuilder.DropColumn(
                name: "closed_at",
                table: "studios");
        }
    }
}
