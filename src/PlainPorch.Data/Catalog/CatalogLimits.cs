namespace PlainPorch.Data.Catalog;

/// <summary>Lengths that the catalog's columns hold.</summary>
public static class CatalogLimits
{
    /// <summary>Characters of a name given by a developer.</summary>
    public const int Name = 100;

    /// <summary>Characters of a slug, with room for the number of a namesake.</summary>
    public const int Slug = 80;
}
