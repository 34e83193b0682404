using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class Surveys : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Drafted",
                schema: "porch",
                table: "panel",
                type: "jsonb",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "finding_decision",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    Subject = table.Column<string>(type: "text", nullable: false),
                    Content = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_finding_decision", x => x.Id);
                    table.ForeignKey(
                        name: "FK_finding_decision_source_SourceId",
                        column: x => x.SourceId,
                        principalSchema: "porch",
                        principalTable: "source",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "source_word",
                schema: "porch",
                columns: table => new
                {
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    Word = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    Means = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_source_word", x => new { x.SourceId, x.Word });
                    table.ForeignKey(
                        name: "FK_source_word_source_SourceId",
                        column: x => x.SourceId,
                        principalSchema: "porch",
                        principalTable: "source",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "survey",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    State = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    Step = table.Column<string>(type: "text", nullable: false),
                    Done = table.Column<int>(type: "integer", nullable: false),
                    Total = table.Column<int>(type: "integer", nullable: false),
                    StartedAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    BeatAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    EndedAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    StopAsked = table.Column<bool>(type: "boolean", nullable: false),
                    ThenDraft = table.Column<bool>(type: "boolean", nullable: false),
                    Problem = table.Column<string>(type: "text", nullable: true),
                    Content = table.Column<string>(type: "jsonb", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_survey", x => x.Id);
                    table.ForeignKey(
                        name: "FK_survey_source_SourceId",
                        column: x => x.SourceId,
                        principalSchema: "porch",
                        principalTable: "source",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_finding_decision_SourceId_Subject",
                schema: "porch",
                table: "finding_decision",
                columns: new[] { "SourceId", "Subject" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_survey_running",
                schema: "porch",
                table: "survey",
                column: "SourceId",
                unique: true,
                filter: "\"State\" = 'Running'");

            migrationBuilder.CreateIndex(
                name: "IX_survey_SourceId_Id",
                schema: "porch",
                table: "survey",
                columns: new[] { "SourceId", "Id" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "finding_decision",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "source_word",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "survey",
                schema: "porch");

            migrationBuilder.DropColumn(
                name: "Drafted",
                schema: "porch",
                table: "panel");
        }
    }
}
