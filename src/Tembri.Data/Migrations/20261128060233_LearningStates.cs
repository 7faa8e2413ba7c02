using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Tembri.Data.Migrations
{
    /// <inheritdoc />
    public partial class LearningStates : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "learning_states",
                columns: table => new
                {
                    studio_id = table.Column<Guid>(type: "uuid", nullable: false),
                    student_id = table.Column<Guid>(type: "uuid", nullable: false),
                    learnt_for = table.Column<string>(type: "text", nullable: false),
                    learner = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_learning_states", x => new { x.studio_id, x.student_id });
                    table.ForeignKey(
                        name: "fk_learning_states_students_studio_id_student_id",
                        columns: x => new { x.studio_id, x.student_id },
                        principalTable: "students",
                        principalColumns: new[] { "studio_id", "id" },
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "fk_learning_states_studios_studio_id",
                        column: x => x.studio_id,
                        principalTable: "studios",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.Sql("alter table learning_states enable row level security");
            migrationBuilder.Sql("alter table learning_states force row level security");
            migrationBuilder.Sql("create policy own_studio on learning_states using (studio_id = nullif(current_setting('tembri.studio', true), '')::uuid)");
            migrationBuilder.Sql("create trigger note_change after insert or update or delete on learning_states for each statement execute function note_change()");

            // Whoever changes a log, an older version of Tembri or a person at the database among them: nothing goes on from where learning stood before.
            migrationBuilder.Sql("""
                create function forget_learning() returns trigger language plpgsql as $$
                begin
                  delete from learning_states l using (select distinct studio_id, student_id from touched) t where l.studio_id = t.studio_id and l.student_id = t.student_id;
                  return null;
                end $$;
                create trigger forget_learning_added after insert on practice_entries referencing new table as touched for each statement execute function forget_learning();
                create trigger forget_learning_changed after update on practice_entries referencing new table as touched for each statement execute function forget_learning();
                create trigger forget_learning_removed after delete on practice_entries referencing old table as touched for each statement execute function forget_learning();
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("drop trigger forget_learning_added on practice_entries; drop trigger forget_learning_changed on practice_entries; drop trigger forget_learning_removed on practice_entries; drop function forget_learning()");
            migrationBuilder.DropTable(
                name: "learning_states");
        }
    }
}
