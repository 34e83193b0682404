using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class TidyingProgress : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "Done",
                schema: "porch",
                table: "kept_answer",
                type: "integer",
                nullable: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Done",
                schema: "porch",
                table: "kept_answer");
        }
    }
}
