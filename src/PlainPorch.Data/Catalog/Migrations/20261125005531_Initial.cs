using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class Initial : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.EnsureSchema(
                name: "porch");

            migrationBuilder.CreateTable(
                name: "data_protection_key",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    FriendlyName = table.Column<string>(type: "text", nullable: true),
                    Xml = table.Column<string>(type: "text", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_data_protection_key", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "source",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    Name = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    Host = table.Column<string>(type: "text", nullable: false),
                    Port = table.Column<int>(type: "integer", nullable: false),
                    Database = table.Column<string>(type: "text", nullable: false),
                    User = table.Column<string>(type: "text", nullable: false),
                    ProtectedPassword = table.Column<string>(type: "text", nullable: true),
                    Tls = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    Schemas = table.Column<List<string>>(type: "text[]", nullable: false),
                    IsReadOnly = table.Column<bool>(type: "boolean", nullable: false),
                    CreatedAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_source", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "porch",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    Slug = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    Name = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_porch", x => x.Id);
                    table.ForeignKey(
                        name: "FK_porch_source_SourceId",
                        column: x => x.SourceId,
                        principalSchema: "porch",
                        principalTable: "source",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "snapshot",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    TakenAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    Content = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_snapshot", x => x.Id);
                    table.ForeignKey(
                        name: "FK_snapshot_source_SourceId",
                        column: x => x.SourceId,
                        principalSchema: "porch",
                        principalTable: "source",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "panel",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    PorchId = table.Column<int>(type: "integer", nullable: false),
                    Slug = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    Content = table.Column<string>(type: "jsonb", nullable: false),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_panel", x => x.Id);
                    table.ForeignKey(
                        name: "FK_panel_porch_PorchId",
                        column: x => x.PorchId,
                        principalSchema: "porch",
                        principalTable: "porch",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_panel_PorchId_Slug",
                schema: "porch",
                table: "panel",
                columns: new[] { "PorchId", "Slug" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_porch_Slug",
                schema: "porch",
                table: "porch",
                column: "Slug",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_porch_SourceId",
                schema: "porch",
                table: "porch",
                column: "SourceId");

            migrationBuilder.CreateIndex(
                name: "IX_snapshot_SourceId_Id",
                schema: "porch",
                table: "snapshot",
                columns: new[] { "SourceId", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_source_Name",
                schema: "porch",
                table: "source",
                column: "Name",
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "data_protection_key",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "panel",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "snapshot",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "porch",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "source",
                schema: "porch");
        }
    }
}
