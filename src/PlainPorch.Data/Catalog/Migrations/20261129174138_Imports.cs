using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class Imports : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "import",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "uuid", nullable: false),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    PanelId = table.Column<int>(type: "integer", nullable: true),
                    Who = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    State = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    Step = table.Column<string>(type: "text", nullable: false),
                    Done = table.Column<long>(type: "bigint", nullable: false),
                    Total = table.Column<long>(type: "bigint", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    StepAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    BeatAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    StopAsked = table.Column<bool>(type: "boolean", nullable: false),
                    Problem = table.Column<string>(type: "text", nullable: true),
                    Settings = table.Column<string>(type: "text", nullable: true),
                    Look = table.Column<string>(type: "text", nullable: true),
                    Plan = table.Column<string>(type: "text", nullable: true),
                    Result = table.Column<string>(type: "text", nullable: true),
                    Transaction = table.Column<string>(type: "text", nullable: true),
                    Recipe = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_import", x => x.Id);
                    table.ForeignKey(
                        name: "FK_import_panel_PanelId",
                        column: x => x.PanelId,
                        principalSchema: "porch",
                        principalTable: "panel",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_import_source_SourceId",
                        column: x => x.SourceId,
                        principalSchema: "porch",
                        principalTable: "source",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "import_recipe",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    PanelId = table.Column<int>(type: "integer", nullable: false),
                    Name = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    Content = table.Column<string>(type: "text", nullable: false),
                    Watches = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: true),
                    Who = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_import_recipe", x => x.Id);
                    table.ForeignKey(
                        name: "FK_import_recipe_panel_PanelId",
                        column: x => x.PanelId,
                        principalSchema: "porch",
                        principalTable: "panel",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "import_file",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "uuid", nullable: false),
                    ImportId = table.Column<Guid>(type: "uuid", nullable: false),
                    Name = table.Column<string>(type: "text", nullable: false),
                    Size = table.Column<long>(type: "bigint", nullable: false),
                    Path = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_import_file", x => x.Id);
                    table.ForeignKey(
                        name: "FK_import_file_import_ImportId",
                        column: x => x.ImportId,
                        principalSchema: "porch",
                        principalTable: "import",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "import_part",
                schema: "porch",
                columns: table => new
                {
                    FileId = table.Column<Guid>(type: "uuid", nullable: false),
                    Number = table.Column<int>(type: "integer", nullable: false),
                    Content = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_import_part", x => new { x.FileId, x.Number });
                    table.ForeignKey(
                        name: "FK_import_part_import_file_FileId",
                        column: x => x.FileId,
                        principalSchema: "porch",
                        principalTable: "import_file",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_import_PanelId",
                schema: "porch",
                table: "import",
                column: "PanelId");

            migrationBuilder.CreateIndex(
                name: "IX_import_SourceId_At",
                schema: "porch",
                table: "import",
                columns: new[] { "SourceId", "At" });

            migrationBuilder.CreateIndex(
                name: "IX_import_file_ImportId",
                schema: "porch",
                table: "import_file",
                column: "ImportId");

            migrationBuilder.CreateIndex(
                name: "IX_import_recipe_PanelId_Name",
                schema: "porch",
                table: "import_recipe",
                columns: new[] { "PanelId", "Name" },
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "import_part",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "import_recipe",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "import_file",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "import",
                schema: "porch");
        }
    }
}
