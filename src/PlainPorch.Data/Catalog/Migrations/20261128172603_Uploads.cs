using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class Uploads : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "upload",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<Guid>(type: "uuid", nullable: false),
                    PanelId = table.Column<int>(type: "integer", nullable: false),
                    Column = table.Column<string>(type: "text", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    Content = table.Column<byte[]>(type: "bytea", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_upload", x => x.Id);
                    table.ForeignKey(
                        name: "FK_upload_panel_PanelId",
                        column: x => x.PanelId,
                        principalSchema: "porch",
                        principalTable: "panel",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_upload_At",
                schema: "porch",
                table: "upload",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_upload_PanelId",
                schema: "porch",
                table: "upload",
                column: "PanelId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "upload",
                schema: "porch");
        }
    }
}
