using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class Acts : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "data_protection_key",
                schema: "porch");

            migrationBuilder.DropColumn(
                name: "EntryId",
                schema: "porch",
                table: "parcel");

            migrationBuilder.AddColumn<string>(
                name: "Identity",
                schema: "porch",
                table: "source",
                type: "text",
                nullable: true);

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "ReturnedAt",
                schema: "porch",
                table: "parcel_record",
                type: "timestamp with time zone",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Database",
                schema: "porch",
                table: "parcel",
                type: "text",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "act_witness",
                schema: "porch",
                columns: table => new
                {
                    EntryId = table.Column<long>(type: "bigint", nullable: false),
                    Content = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_act_witness", x => x.EntryId);
                    table.ForeignKey(
                        name: "FK_act_witness_log_entry_EntryId",
                        column: x => x.EntryId,
                        principalSchema: "porch",
                        principalTable: "log_entry",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "distinct_pair",
                schema: "porch",
                columns: table => new
                {
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    Schema = table.Column<string>(type: "text", nullable: false),
                    Table = table.Column<string>(type: "text", nullable: false),
                    FirstKey = table.Column<string>(type: "text", nullable: false),
                    SecondKey = table.Column<string>(type: "text", nullable: false),
                    Who = table.Column<string>(type: "text", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_distinct_pair", x => new { x.SourceId, x.Schema, x.Table, x.FirstKey, x.SecondKey });
                });

            migrationBuilder.CreateTable(
                name: "kept_answer",
                schema: "porch",
                columns: table => new
                {
                    Key = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    Fingerprint = table.Column<string>(type: "text", nullable: false),
                    EntryId = table.Column<long>(type: "bigint", nullable: true),
                    Result = table.Column<string>(type: "jsonb", nullable: true),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_kept_answer", x => x.Key);
                });

            migrationBuilder.CreateIndex(
                name: "IX_parcel_record_ReturnedAt",
                schema: "porch",
                table: "parcel_record",
                column: "ReturnedAt",
                filter: "\"ReturnedAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_log_entry_ParcelId",
                schema: "porch",
                table: "log_entry",
                column: "ParcelId",
                filter: "\"ParcelId\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_kept_answer_At",
                schema: "porch",
                table: "kept_answer",
                column: "At");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "act_witness",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "distinct_pair",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "kept_answer",
                schema: "porch");

            migrationBuilder.DropIndex(
                name: "IX_parcel_record_ReturnedAt",
                schema: "porch",
                table: "parcel_record");

            migrationBuilder.DropIndex(
                name: "IX_log_entry_ParcelId",
                schema: "porch",
                table: "log_entry");

            migrationBuilder.DropColumn(
                name: "Identity",
                schema: "porch",
                table: "source");

            migrationBuilder.DropColumn(
                name: "ReturnedAt",
                schema: "porch",
                table: "parcel_record");

            migrationBuilder.DropColumn(
                name: "Database",
                schema: "porch",
                table: "parcel");

            migrationBuilder.AddColumn<long>(
                name: "EntryId",
                schema: "porch",
                table: "parcel",
                type: "bigint",
                nullable: false,
                defaultValue: 0L);

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
        }
    }
}
