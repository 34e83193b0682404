using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Panels;

namespace PlainPorch.Data.Imports;

/// <summary>The tables of the catalog that hold imports, their files, and recipes.</summary>
public static class ImportTables
{
    extension(CatalogContext catalog)
    {
        /// <summary>The imports.</summary>
        public DbSet<ImportRow> Imports => catalog.Set<ImportRow>();

        /// <summary>Their files.</summary>
        public DbSet<ImportFileRow> ImportFiles => catalog.Set<ImportFileRow>();

        /// <summary>The files' bytes.</summary>
        public DbSet<ImportPartRow> ImportParts => catalog.Set<ImportPartRow>();

        /// <summary>The recipes.</summary>
        public DbSet<RecipeRow> Recipes => catalog.Set<RecipeRow>();
    }
}

internal sealed class ImportConfiguration : IEntityTypeConfiguration<ImportRow>
{
    public void Configure(EntityTypeBuilder<ImportRow> builder)
    {
        builder.ToTable("import");
        builder.Property(import => import.Id).ValueGeneratedNever();
        builder.HasIndex(import => new { import.SourceId, import.At });
        builder.HasIndex(import => import.PanelId);
        builder.Property(import => import.Who).HasMaxLength(CatalogLimits.Name);
        builder.Property(import => import.State).HasConversion<string>().HasMaxLength(20);
        builder.Property(import => import.Recipe).HasMaxLength(CatalogLimits.Name);
        // What files hold is kept as text: JSON of PostgreSQL's own takes no null character.
        builder.HasOne<SourceRow>().WithMany().HasForeignKey(import => import.SourceId).OnDelete(DeleteBehavior.Cascade);
        builder.HasOne<PanelRow>().WithMany().HasForeignKey(import => import.PanelId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class ImportFileConfiguration : IEntityTypeConfiguration<ImportFileRow>
{
    public void Configure(EntityTypeBuilder<ImportFileRow> builder)
    {
        builder.ToTable("import_file");
        builder.Property(file => file.Id).ValueGeneratedNever();
        builder.HasOne<ImportRow>().WithMany().HasForeignKey(file => file.ImportId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class ImportPartConfiguration : IEntityTypeConfiguration<ImportPartRow>
{
    public void Configure(EntityTypeBuilder<ImportPartRow> builder)
    {
        builder.ToTable("import_part");
        builder.HasKey(part => new { part.FileId, part.Number });
        builder.HasOne<ImportFileRow>().WithMany().HasForeignKey(part => part.FileId).OnDelete(DeleteBehavior.Cascade);
    }
}

internal sealed class RecipeConfiguration : IEntityTypeConfiguration<RecipeRow>
{
    public void Configure(EntityTypeBuilder<RecipeRow> builder)
    {
        builder.ToTable("import_recipe");
        builder.HasIndex(recipe => new { recipe.PanelId, recipe.Name }).IsUnique();
        builder.Property(recipe => recipe.Name).HasMaxLength(CatalogLimits.Name);
        builder.Property(recipe => recipe.Who).HasMaxLength(CatalogLimits.Name);
        builder.Property(recipe => recipe.Watches).HasMaxLength(CatalogLimits.Name);
        builder.HasOne<PanelRow>().WithMany().HasForeignKey(recipe => recipe.PanelId).OnDelete(DeleteBehavior.Cascade);
    }
}
