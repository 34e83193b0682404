using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class AccessLog : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "access_log",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    Act = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    By = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    About = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    Porch = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: true),
                    Detail = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: true),
                    From = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_access_log", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "provider_link",
                schema: "porch",
                columns: table => new
                {
                    PersonId = table.Column<int>(type: "integer", nullable: false),
                    Issuer = table.Column<string>(type: "character varying(255)", maxLength: 255, nullable: false),
                    Subject = table.Column<string>(type: "character varying(255)", maxLength: 255, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_provider_link", x => x.PersonId);
                    table.ForeignKey(
                        name: "FK_provider_link_person_PersonId",
                        column: x => x.PersonId,
                        principalSchema: "porch",
                        principalTable: "person",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_access_log_At",
                schema: "porch",
                table: "access_log",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_provider_link_Issuer_Subject",
                schema: "porch",
                table: "provider_link",
                columns: new[] { "Issuer", "Subject" },
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "access_log",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "provider_link",
                schema: "porch");
        }
    }
}
