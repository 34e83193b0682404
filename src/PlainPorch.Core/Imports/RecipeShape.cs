namespace PlainPorch.Core.Imports;

/// <summary>Whether a file still looks as the one did that a recipe was made with.</summary>
public static class RecipeShape
{
    /// <summary>Fits a recipe to a file whose columns may stand in another order.</summary>
    /// <param name="columns">Where the columns go, by what they were called.</param>
    /// <param name="file">What the file calls its columns.</param>
    /// <param name="changed">What has changed, in a sentence; null where nothing has.</param>
    /// <returns>The same in the file's order; null where something has changed.</returns>
    public static IReadOnlyList<FieldMatch>? Fit(
        IReadOnlyList<FieldMatch> columns,
        IReadOnlyList<string> file,
        out string? changed
    )
    {
        ArgumentNullException.ThrowIfNull(columns);
        ArgumentNullException.ThrowIfNull(file);
        var left = columns.ToList();
        var fitted = new List<FieldMatch>();
        var added = new List<string>();
        foreach (var name in file)
        {
            // Rows that were left out come back with their reasons.
            if (left.Find(column => column.Source == name) is { } found)
            {
                fitted.Add(found);
                left.Remove(found);
            }
            else if (name == RejectedRow.ReasonColumn)
                fitted.Add(new FieldMatch(name, null, ValueForm.Text.StoreType, null));
            else
                added.Add(name);
        }

        var gone = left.Where(column => column.Source != RejectedRow.ReasonColumn).Select(column => column.Source).ToList();
        changed =
            gone.Count + added.Count == 0
                ? null
                : $"The file has changed since the recipe was kept: {Say(gone, "is no longer there", "are no longer there")}{(gone.Count > 0 && added.Count > 0 ? ", and " : "")}{Say(added, "is new", "are new")}. Nothing was written. Import it by hand, and keep the recipe anew.";
        return changed is null ? fitted : null;
    }

    private static string Say(List<string> names, string one, string several) =>
        names.Count == 0 ? "" : $"{string.Join(", ", names)} {(names.Count == 1 ? one : several)}";
}
