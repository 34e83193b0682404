using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class KeptViews : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Dates",
                schema: "porch",
                table: "porch",
                type: "character varying(20)",
                maxLength: 20,
                nullable: false,
                defaultValue: "DayMonthYear");

            migrationBuilder.CreateTable(
                name: "kept_view",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    PanelId = table.Column<int>(type: "integer", nullable: false),
                    Owner = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    Name = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    Content = table.Column<string>(type: "jsonb", nullable: false),
                    IsStart = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_kept_view", x => x.Id);
                    table.ForeignKey(
                        name: "FK_kept_view_panel_PanelId",
                        column: x => x.PanelId,
                        principalSchema: "porch",
                        principalTable: "panel",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_kept_view_PanelId_Owner_Name",
                schema: "porch",
                table: "kept_view",
                columns: new[] { "PanelId", "Owner", "Name" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_kept_view_start",
                schema: "porch",
                table: "kept_view",
                column: "PanelId",
                unique: true,
                filter: "\"IsStart\"");

            // Instances keep opened panels; whichever changes one of these tables tells all of them.
            migrationBuilder.Sql("""
                CREATE FUNCTION porch.tell_changed() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN NOTIFY porch_changed; RETURN NULL; END $$;
                CREATE TRIGGER tell_changed AFTER INSERT OR UPDATE OR DELETE ON porch.source FOR EACH STATEMENT EXECUTE FUNCTION porch.tell_changed();
                CREATE TRIGGER tell_changed AFTER INSERT OR UPDATE OR DELETE ON porch.snapshot FOR EACH STATEMENT EXECUTE FUNCTION porch.tell_changed();
                CREATE TRIGGER tell_changed AFTER INSERT OR UPDATE OR DELETE ON porch.porch FOR EACH STATEMENT EXECUTE FUNCTION porch.tell_changed();
                CREATE TRIGGER tell_changed AFTER INSERT OR UPDATE OR DELETE ON porch.panel FOR EACH STATEMENT EXECUTE FUNCTION porch.tell_changed();
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("DROP FUNCTION porch.tell_changed() CASCADE");

            migrationBuilder.DropTable(
                name: "kept_view",
                schema: "porch");

            migrationBuilder.DropColumn(
                name: "Dates",
                schema: "porch",
                table: "porch");
        }
    }
}
