using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.People;

/// <summary>The tables of the catalog that tell who people are.</summary>
public static class PeopleTables
{
    // A SHA-256 as Base64.
    internal const int HashLength = 44;

    extension(CatalogContext catalog)
    {
        /// <summary>The people.</summary>
        public DbSet<PersonRow> People => catalog.Set<PersonRow>();

        /// <summary>What they are in porches.</summary>
        public DbSet<MembershipRow> Memberships => catalog.Set<MembershipRow>();

        /// <summary>Where they are signed in.</summary>
        public DbSet<SessionRow> Sessions => catalog.Set<SessionRow>();

        /// <summary>The links by which they set passwords.</summary>
        public DbSet<LinkRow> Links => catalog.Set<LinkRow>();

        /// <summary>The codes that stand in for a second factor.</summary>
        public DbSet<RecoveryCodeRow> RecoveryCodes => catalog.Set<RecoveryCodeRow>();

        /// <summary>The secrets by which programs act.</summary>
        public DbSet<TokenRow> Tokens => catalog.Set<TokenRow>();

        /// <summary>The mails.</summary>
        public DbSet<MailRow> Mails => catalog.Set<MailRow>();

        /// <summary>Whose accounts are connected with a provider of sign-ins.</summary>
        public DbSet<ProviderLinkRow> ProviderLinks => catalog.Set<ProviderLinkRow>();

        /// <summary>What happened to who gets in.</summary>
        public DbSet<AccessRow> AccessLog => catalog.Set<AccessRow>();
    }
}

internal sealed class PersonConfiguration : IEntityTypeConfiguration<PersonRow>
{
    public void Configure(EntityTypeBuilder<PersonRow> builder)
    {
        builder.ToTable("person");
        builder.HasIndex(person => person.NormalizedEmail).IsUnique();
        builder.HasIndex(person => person.NormalizedUserName).IsUnique();
        builder.Property(person => person.Name).HasMaxLength(PersonRow.MostOfName);
        foreach (
            var address in new[]
            {
                nameof(PersonRow.Email),
                nameof(PersonRow.NormalizedEmail),
                nameof(PersonRow.UserName),
                nameof(PersonRow.NormalizedUserName),
            }
        )
            builder.Property(address).HasMaxLength(PersonRow.MostOfEmail);
        builder.Property(person => person.ConcurrencyStamp).IsConcurrencyToken();
        // Guessing is slowed for whoever guesses, and nobody is called by telephone.
        builder.Ignore(person => person.PhoneNumber);
        builder.Ignore(person => person.PhoneNumberConfirmed);
        builder.Ignore(person => person.LockoutEnd);
        builder.Ignore(person => person.LockoutEnabled);
        builder.Ignore(person => person.AccessFailedCount);
    }
}

internal sealed class RecoveryCodeConfiguration : IEntityTypeConfiguration<RecoveryCodeRow>
{
    public void Configure(EntityTypeBuilder<RecoveryCodeRow> builder)
    {
        builder.ToTable("recovery_code");
        builder.Property(code => code.Hash).HasMaxLength(PeopleTables.HashLength);
        builder.HasOne<PersonRow>().WithMany().HasForeignKey(code => code.PersonId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class MembershipConfiguration : IEntityTypeConfiguration<MembershipRow>
{
    public void Configure(EntityTypeBuilder<MembershipRow> builder)
    {
        builder.ToTable("membership");
        builder.HasKey(member => new { member.PersonId, member.PorchId });
        builder.Property(member => member.Role).HasMaxLength(CatalogLimits.Slug);
        builder.Property(member => member.Record).HasMaxLength(MembershipRow.MostOfRecord);
        builder.HasOne<PersonRow>().WithMany().HasForeignKey(member => member.PersonId).OnDelete(DeleteBehavior.Cascade);
        builder.HasOne<PorchRow>().WithMany().HasForeignKey(member => member.PorchId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class SessionConfiguration : IEntityTypeConfiguration<SessionRow>
{
    public void Configure(EntityTypeBuilder<SessionRow> builder)
    {
        builder.ToTable("session");
        builder.HasIndex(session => session.Hash).IsUnique();
        builder.Property(session => session.Hash).HasMaxLength(PeopleTables.HashLength);
        builder.Property(session => session.From).HasMaxLength(100);
        builder.Property(session => session.Agent).HasMaxLength(300);
        builder.HasOne<PersonRow>().WithMany().HasForeignKey(session => session.PersonId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class LinkConfiguration : IEntityTypeConfiguration<LinkRow>
{
    public void Configure(EntityTypeBuilder<LinkRow> builder)
    {
        builder.ToTable("link");
        builder.HasIndex(link => link.Hash).IsUnique();
        builder.Property(link => link.Hash).HasMaxLength(PeopleTables.HashLength);
        builder.HasOne<PersonRow>().WithMany().HasForeignKey(link => link.PersonId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class TokenConfiguration : IEntityTypeConfiguration<TokenRow>
{
    public void Configure(EntityTypeBuilder<TokenRow> builder)
    {
        builder.ToTable("api_token");
        builder.HasIndex(token => token.Hash).IsUnique();
        builder.HasIndex(token => new { token.PorchId, token.Name }).IsUnique();
        builder.Property(token => token.Hash).HasMaxLength(PeopleTables.HashLength);
        builder.Property(token => token.Name).HasMaxLength(PersonRow.MostOfName);
        builder.Property(token => token.MadeBy).HasMaxLength(PersonRow.MostOfName);
        builder.Property(token => token.Role).HasMaxLength(CatalogLimits.Slug);
        builder.HasOne<PorchRow>().WithMany().HasForeignKey(token => token.PorchId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class MailConfiguration : IEntityTypeConfiguration<MailRow>
{
    public void Configure(EntityTypeBuilder<MailRow> builder)
    {
        builder.ToTable("mail");
        builder.HasIndex(mail => mail.At);
        builder.Property(mail => mail.To).HasMaxLength(PersonRow.MostOfEmail);
        builder.Property(mail => mail.Subject).HasMaxLength(200);
        builder.Property(mail => mail.Failure).HasMaxLength(500);
    }
}

internal sealed class ProviderLinkConfiguration : IEntityTypeConfiguration<ProviderLinkRow>
{
    public void Configure(EntityTypeBuilder<ProviderLinkRow> builder)
    {
        builder.ToTable("provider_link");
        builder.HasKey(link => link.PersonId);
        builder.HasIndex(link => new { link.Issuer, link.Subject }).IsUnique();
        builder.Property(link => link.Issuer).HasMaxLength(ProviderLinkRow.MostOfName);
        builder.Property(link => link.Subject).HasMaxLength(ProviderLinkRow.MostOfName);
        builder
            .HasOne<PersonRow>()
            .WithOne()
            .HasForeignKey<ProviderLinkRow>(link => link.PersonId)
            .OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class AccessConfiguration : IEntityTypeConfiguration<AccessRow>
{
    public void Configure(EntityTypeBuilder<AccessRow> builder)
    {
        builder.ToTable("access_log");
        builder.HasIndex(row => row.At);
        builder.Property(row => row.Act).HasConversion<string>().HasMaxLength(20);
        builder.Property(row => row.By).HasMaxLength(MostOfBy);
        builder.Property(row => row.About).HasMaxLength(MostOfBy);
        builder.Property(row => row.Porch).HasMaxLength(CatalogLimits.Slug);
        builder.Property(row => row.Detail).HasMaxLength(AccessLog.MostOfDetail);
        builder.Property(row => row.From).HasMaxLength(100);
    }

    // A token's name has a word behind it.
    private const int MostOfBy = PersonRow.MostOfName + 20;
}
