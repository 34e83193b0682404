namespace PlainPorch.Data.SavedLists;

/// <summary>A list as somebody set it up, kept under a name.</summary>
public sealed class KeptViewRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>The panel whose list it is.</summary>
    public int PanelId { get; set; }

    /// <summary>Whose it is; empty where it is for everybody at the porch.</summary>
    public required string Owner { get; set; }

    /// <summary>What it is called; unique for its panel and owner.</summary>
    public required string Name { get; set; }

    /// <summary>The <see cref="Core.Query.ListView"/> as JSON.</summary>
    public required string Content { get; set; }

    /// <summary>Whether the panel opens with it; of a panel's views for everybody one at most.</summary>
    public bool IsStart { get; set; }
}
