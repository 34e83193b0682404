using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class ReturnedRows : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string[]>(
                name: "FoundAt",
                schema: "porch",
                table: "parcel_record",
                type: "text[]",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "MadeBy",
                schema: "porch",
                table: "parcel",
                type: "text",
                nullable: false,
                defaultValue: "");

            // Nothing else is known of parcels that were made before.
            migrationBuilder.Sql("""UPDATE porch.parcel SET "MadeBy" = "Transaction";""");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "FoundAt",
                schema: "porch",
                table: "parcel_record");

            migrationBuilder.DropColumn(
                name: "MadeBy",
                schema: "porch",
                table: "parcel");
        }
    }
}
