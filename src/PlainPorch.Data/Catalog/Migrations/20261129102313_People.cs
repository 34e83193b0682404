using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace PlainPorch.Data.Catalog.Migrations
{
    /// <inheritdoc />
    public partial class People : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Roles",
                schema: "porch",
                table: "porch",
                type: "jsonb",
                nullable: false,
                defaultValue: "[]");

            migrationBuilder.AddColumn<uint>(
                name: "xmin",
                schema: "porch",
                table: "porch",
                type: "xid",
                rowVersion: true,
                nullable: false,
                defaultValue: 0u);

            migrationBuilder.CreateTable(
                name: "api_token",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    PorchId = table.Column<int>(type: "integer", nullable: false),
                    Name = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    Role = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    Hash = table.Column<string>(type: "character varying(44)", maxLength: 44, nullable: false),
                    MadeBy = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    MadeAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    EndsAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_api_token", x => x.Id);
                    table.ForeignKey(
                        name: "FK_api_token_porch_PorchId",
                        column: x => x.PorchId,
                        principalSchema: "porch",
                        principalTable: "porch",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "mail",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    At = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    To = table.Column<string>(type: "character varying(254)", maxLength: 254, nullable: false),
                    Subject = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    Text = table.Column<string>(type: "text", nullable: false),
                    SentAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    Tries = table.Column<int>(type: "integer", nullable: false),
                    Failure = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_mail", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "person",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    Name = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    IsDeveloper = table.Column<bool>(type: "boolean", nullable: false),
                    IsOff = table.Column<bool>(type: "boolean", nullable: false),
                    MadeAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    ProtectedFactor = table.Column<string>(type: "text", nullable: true),
                    FactorStep = table.Column<long>(type: "bigint", nullable: true),
                    UserName = table.Column<string>(type: "character varying(254)", maxLength: 254, nullable: true),
                    NormalizedUserName = table.Column<string>(type: "character varying(254)", maxLength: 254, nullable: true),
                    Email = table.Column<string>(type: "character varying(254)", maxLength: 254, nullable: true),
                    NormalizedEmail = table.Column<string>(type: "character varying(254)", maxLength: 254, nullable: true),
                    EmailConfirmed = table.Column<bool>(type: "boolean", nullable: false),
                    PasswordHash = table.Column<string>(type: "text", nullable: true),
                    SecurityStamp = table.Column<string>(type: "text", nullable: true),
                    ConcurrencyStamp = table.Column<string>(type: "text", nullable: true),
                    TwoFactorEnabled = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_person", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "link",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    PersonId = table.Column<int>(type: "integer", nullable: false),
                    Hash = table.Column<string>(type: "character varying(44)", maxLength: 44, nullable: false),
                    EndsAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_link", x => x.Id);
                    table.ForeignKey(
                        name: "FK_link_person_PersonId",
                        column: x => x.PersonId,
                        principalSchema: "porch",
                        principalTable: "person",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "membership",
                schema: "porch",
                columns: table => new
                {
                    PersonId = table.Column<int>(type: "integer", nullable: false),
                    PorchId = table.Column<int>(type: "integer", nullable: false),
                    Role = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    Record = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: true),
                    IsOff = table.Column<bool>(type: "boolean", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_membership", x => new { x.PersonId, x.PorchId });
                    table.ForeignKey(
                        name: "FK_membership_person_PersonId",
                        column: x => x.PersonId,
                        principalSchema: "porch",
                        principalTable: "person",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_membership_porch_PorchId",
                        column: x => x.PorchId,
                        principalSchema: "porch",
                        principalTable: "porch",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "recovery_code",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    PersonId = table.Column<int>(type: "integer", nullable: false),
                    Hash = table.Column<string>(type: "character varying(44)", maxLength: 44, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_recovery_code", x => x.Id);
                    table.ForeignKey(
                        name: "FK_recovery_code_person_PersonId",
                        column: x => x.PersonId,
                        principalSchema: "porch",
                        principalTable: "person",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "session",
                schema: "porch",
                columns: table => new
                {
                    Id = table.Column<int>(type: "integer", nullable: false)
                        .Annotation("Npgsql:ValueGenerationStrategy", NpgsqlValueGenerationStrategy.IdentityByDefaultColumn),
                    PersonId = table.Column<int>(type: "integer", nullable: false),
                    Hash = table.Column<string>(type: "character varying(44)", maxLength: 44, nullable: false),
                    MadeAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    SeenAt = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    From = table.Column<string>(type: "character varying(100)", maxLength: 100, nullable: false),
                    Agent = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_session", x => x.Id);
                    table.ForeignKey(
                        name: "FK_session_person_PersonId",
                        column: x => x.PersonId,
                        principalSchema: "porch",
                        principalTable: "person",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_api_token_Hash",
                schema: "porch",
                table: "api_token",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_api_token_PorchId_Name",
                schema: "porch",
                table: "api_token",
                columns: new[] { "PorchId", "Name" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_link_Hash",
                schema: "porch",
                table: "link",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_link_PersonId",
                schema: "porch",
                table: "link",
                column: "PersonId");

            migrationBuilder.CreateIndex(
                name: "IX_mail_At",
                schema: "porch",
                table: "mail",
                column: "At");

            migrationBuilder.CreateIndex(
                name: "IX_membership_PorchId",
                schema: "porch",
                table: "membership",
                column: "PorchId");

            migrationBuilder.CreateIndex(
                name: "IX_person_NormalizedEmail",
                schema: "porch",
                table: "person",
                column: "NormalizedEmail",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_person_NormalizedUserName",
                schema: "porch",
                table: "person",
                column: "NormalizedUserName",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_recovery_code_PersonId",
                schema: "porch",
                table: "recovery_code",
                column: "PersonId");

            migrationBuilder.CreateIndex(
                name: "IX_session_Hash",
                schema: "porch",
                table: "session",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_session_PersonId",
                schema: "porch",
                table: "session",
                column: "PersonId");

            // Who may do what is kept in memory as long as none of this changes; when somebody was seen last is no change.
            foreach (var table in new[] { "person", "membership", "api_token" })
                migrationBuilder.Sql($"CREATE TRIGGER tell_changed AFTER INSERT OR UPDATE OR DELETE ON porch.{table} FOR EACH STATEMENT EXECUTE FUNCTION porch.tell_changed();");
            migrationBuilder.Sql("CREATE TRIGGER tell_changed AFTER DELETE ON porch.session FOR EACH STATEMENT EXECUTE FUNCTION porch.tell_changed();");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "api_token",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "link",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "mail",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "membership",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "recovery_code",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "session",
                schema: "porch");

            migrationBuilder.DropTable(
                name: "person",
                schema: "porch");

            migrationBuilder.DropColumn(
                name: "Roles",
                schema: "porch",
                table: "porch");

            migrationBuilder.DropColumn(
                name: "xmin",
                schema: "porch",
                table: "porch");
        }
    }
}
