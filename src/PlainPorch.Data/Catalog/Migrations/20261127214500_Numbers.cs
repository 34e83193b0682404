using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class Numbers : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Numbers",
                schema: "porch",
                table: "porch",
                type: "character varying(20)",
                maxLength: 20,
                nullable: false,
                defaultValue: "CommaPoint");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Numbers",
                schema: "porch",
                table: "porch");
        }
    }
}
