using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Records;

/// <summary>What is said where two records have the same key, which only a developer's decision makes one.</summary>
public static class DoubledKey
{
    /// <summary>Why neither of the records is written to, and what to do.</summary>
    /// <param name="panel">The panel.</param>
    public static string Says(BoundPanel panel) =>
        $"Another record has the same {LabelsOf(panel)}, so it is not certain which of them is meant. Nothing was changed. Ask whoever looks after the database to make them differ.";

    /// <summary>Why a record does not get a key that another one has, and what to do.</summary>
    /// <param name="panel">The panel.</param>
    public static string Taken(BoundPanel panel) => $"Another record has this {LabelsOf(panel)} already. Enter another one.";

    private static string LabelsOf(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return string.Join(" and ", panel.Identity.Columns.Select(name => panel.Find(name)?.Label ?? name));
    }
}
