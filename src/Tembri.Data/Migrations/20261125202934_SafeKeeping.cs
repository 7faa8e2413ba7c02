using System;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    [DbContext(typeof(TembriDbContext))]
    [Migration("20261125202934_SafeKeeping")]
    public partial class SafeKeeping : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "opened_at",
                table: "teachers",
                type: "timestamp with time zone",
                nullable: false,
                defaultValue: new DateTimeOffset(new DateTime(1, 1, 1, 0, 0, 0, 0, DateTimeKind.Unspecified), new TimeSpan(0, 0, 0, 0, 0)));

            migrationBuilder.AddColumn<Guid>(
                name: "request_key",
                table: "students",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "request_key",
                table: "songs",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<Guid>(
                name: "last_step",
                table: "ladder_choices",
                type: "uuid",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "revision",
                table: "ladder_choices",
                type: "integer",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.CreateTable(
                name: "sessions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    teacher_id = table.Column<Guid>(type: "uuid", nullable: false),
                    device = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sessions", x => x.id);
                    table.ForeignKey(
                        name: "fk_sessions_users_teacher_id",
                        column: x => x.teacher_id,
                        principalTable: "teachers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "sign_in_tries",
                columns: table => new
                {
                    key = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    failures = table.Column<int>(type: "integer", nullable: false),
                    last_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sign_in_tries", x => x.key);
                });

            migrationBuilder.CreateTable(
                name: "stand_in_mails",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    to = table.Column<string>(type: "text", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stand_in_mails", x => x.id);
                });

            migrationBuilder.CreateIndex(
                name: "ix_students_studio_id_request_key",
                table: "students",
                columns: new[] { "studio_id", "request_key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_songs_studio_id_request_key",
                table: "songs",
                columns: new[] { "studio_id", "request_key" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_sessions_teacher_id",
                table: "sessions",
                column: "teacher_id");

            migrationBuilder.CreateIndex(
                name: "ix_stand_in_mails_at",
                table: "stand_in_mails",
                column: "at");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "sessions");

            migrationBuilder.DropTable(
                name: "sign_in_tries");

            migrationBuilder.DropTable(
                name: "stand_in_mails");

            migrationBuilder.DropIndex(
                name: "ix_students_studio_id_request_key",
                table: "students");

            migrationBuilder.DropIndex(
                name: "ix_songs_studio_id_request_key",
                table: "songs");

            migrationBuilder.DropColumn(
                name: "opened_at",
                table: "teachers");

            migrationBuilder.DropColumn(
                name: "request_key",
                table: "students");

            migrationBuilder.DropColumn(
                name: "request_key",
                table: "songs");

            migrationBuilder.DropColumn(
                name: "last_step",
                table: "ladder_choices");

            migrationBuilder.DropColumn(
                name: "revision",
                table: "ladder_choices");

        }
    }
}
