using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class History : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "log_entry",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    Who = table.Column<string>(type: "text", nullable: false),
                    From = table.Column<string>(type: "text", nullable: false),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    PorchId = table.Column<int>(type: "integer", nullable: false),
                    Panel = table.Column<string>(type: "text", nullable: false),
                    Act = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    Title = table.Column<string>(type: "text", nullable: false),
                    Count = table.Column<int>(type: "integer", nullable: false),
                    ParcelId = table.Column<long>(type: "bigint", nullable: true),
                    Transaction = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_log_entry", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "parcel",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<long>(type: "bigint", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    PorchId = table.Column<int>(type: "integer", nullable: false),
                    Panel = table.Column<string>(type: "text", nullable: false),
                    Title = table.Column<string>(type: "text", nullable: false),
                    Chosen = table.Column<int>(type: "integer", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    Who = table.Column<string>(type: "text", nullable: false),
                    EraseAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    State = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    EntryId = table.Column<long>(type: "bigint", nullable: false),
                    Transaction = table.Column<string>(type: "text", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_parcel", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "log_outcome",
                schema: "porch",
                columns: table => new
                {
                    EntryId = table.Column<long>(type: "bigint", nullable: false),
                    Happened = table.Column<bool>(type: "boolean", nullable: false),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_log_outcome", x => x.EntryId);
                    table.ForeignKey(
                        name: "FK_log_outcome_log_entry_EntryId",
                        column: x => x.EntryId,
                        principalSchema: "porch",
                        principalTable: "log_entry",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "log_record",
                schema: "porch",
                columns: table => new
                {
                    EntryId = table.Column<long>(type: "bigint", nullable: false),
                    Number = table.Column<int>(type: "integer", nullable: false),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    Schema = table.Column<string>(type: "text", nullable: false),
                    Table = table.Column<string>(type: "text", nullable: false),
                    Key = table.Column<string>(type: "text", nullable: true),
                    Title = table.Column<string>(type: "text", nullable: false),
                    Act = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    Changes = table.Column<string>(type: "jsonb", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_log_record", x => new { x.EntryId, x.Number });
                    table.ForeignKey(
                        name: "FK_log_record_log_entry_EntryId",
                        column: x => x.EntryId,
                        principalSchema: "porch",
                        principalTable: "log_entry",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "parcel_part",
                schema: "porch",
                columns: table => new
                {
                    ParcelId = table.Column<long>(type: "bigint", nullable: false),
                    Place = table.Column<int>(type: "integer", nullable: false),
                    Schema = table.Column<string>(type: "text", nullable: false),
                    Table = table.Column<string>(type: "text", nullable: false),
                    Label = table.Column<string>(type: "text", nullable: false),
                    Act = table.Column<string>(type: "character varying(20)", maxLength: 20, nullable: false),
                    Group = table.Column<int>(type: "integer", nullable: false),
                    Columns = table.Column<string[]>(type: "text[]", nullable: false),
                    Identity = table.Column<string[]>(type: "text[]", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_parcel_part", x => new { x.ParcelId, x.Place });
                    table.ForeignKey(
                        name: "FK_parcel_part_parcel_ParcelId",
                        column: x => x.ParcelId,
                        principalSchema: "porch",
                        principalTable: "parcel",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "parcel_record",
                schema: "porch",
                columns: table => new
                {
                    ParcelId = table.Column<long>(type: "bigint", nullable: false),
                    Place = table.Column<int>(type: "integer", nullable: false),
                    Number = table.Column<int>(type: "integer", nullable: false),
                    SourceId = table.Column<int>(type: "integer", nullable: false),
                    Key = table.Column<string>(type: "text", nullable: true),
                    Title = table.Column<string>(type: "text", nullable: false),
                    IsChosen = table.Column<bool>(type: "boolean", nullable: false),
                    IsReturning = table.Column<bool>(type: "boolean", nullable: false),
                    Values = table.Column<string[]>(type: "text[]", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_parcel_record", x => new { x.ParcelId, x.Place, x.Number });
                    table.ForeignKey(
                        name: "FK_parcel_record_parcel_part_ParcelId_Place",
                        columns: x => new { x.ParcelId, x.Place },
                        principalSchema: "porch",
                        principalTable: "parcel_part",
                        principalColumns: new[] { "ParcelId", "Place" },
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_log_entry_PorchId_Id",
                schema: "porch",
                table: "log_entry",
                columns: new[] { "PorchId", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_log_record_SourceId_Schema_Table_Key_EntryId",
                schema: "porch",
                table: "log_record",
                columns: new[] { "SourceId", "Schema", "Table", "Key", "EntryId" });

            migrationBuilder.CreateIndex(
                name: "IX_parcel_EraseAt",
                schema: "porch",
                table: "parcel",
                column: "EraseAt",
                filter: "\"EraseAt\" IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_parcel_PorchId_Panel_Id",
                schema: "porch",
                table: "parcel",
                columns: new[] { "PorchId", "Panel", "Id" });

            migrationBuilder.CreateIndex(
                name: "IX_parcel_State",
                schema: "porch",
                table: "parcel",
                column: "State",
                filter: "\"State\" <> 'Kept'");

            migrationBuilder.CreateIndex(
                name: "IX_parcel_record_SourceId_Key",
                schema: "porch",
                table: "parcel_record",
                columns: new[] { "SourceId", "Key" });

            // The logbook is only ever added to, by whatever program; and what is set aside tells nobody to open panels anew.
            migrationBuilder.Sql("""
                CREATE FUNCTION porch.keep_log() RETURNS trigger LANGUAGE plpgsql AS
                $$ BEGIN RAISE EXCEPTION 'The logbook cannot be changed, only added to.' USING ERRCODE = 'insufficient_privilege'; END $$;
                CREATE TRIGGER keep_log BEFORE UPDATE OR DELETE OR TRUNCATE ON porch.log_entry FOR EACH STATEMENT EXECUTE FUNCTION porch.keep_log();
                CREATE TRIGGER keep_log BEFORE UPDATE OR DELETE OR TRUNCATE ON porch.log_record FOR EACH STATEMENT EXECUTE FUNCTION porch.keep_log();
                CREATE TRIGGER keep_log BEFORE UPDATE OR DELETE OR TRUNCATE ON porch.log_outcome FOR EACH STATEMENT EXECUTE FUNCTION porch.keep_log();
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql("DROP FUNCTION porch.keep_log() CASCADE");

            migrationBuilder.DropTable(
                name: "log_outcome",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "log_record",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "parcel_record",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "log_entry",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "parcel_part",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "parcel",
                schema: "porch");
        }
    }
}
