using PlainPorch.Core.Panels;

namespace PlainPorch.Core.Imports;

/// <summary>Finds out which column of a panel a column of a file is: by its name, its label, likeness, or what is in it.</summary>
public static class FieldMatching
{
    // Below this share of like letters two names are two names.
    private const double Alike = 0.6;

    // So many different values say something, and so large a share of them has to be in the other column.
    private const int EnoughValues = 4;
    private const double SameContent = 0.9;

    /// <summary>The columns of a panel that a file can fill.</summary>
    public static IReadOnlyList<BoundColumn> Fillable(BoundPanel panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        return
        [
            .. panel.Columns.Where(column =>
                column.IsWritable && column.Decision.Stamp is null || panel.IsIdentifying(column.Name)
            ),
        ];
    }

    /// <summary>Drafts how a file is brought into a panel.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="table">The file's table, looked at.</param>
    /// <param name="known">Some values of the panel's columns; none where they are not known.</param>
    public static PanelImportSettings Draft(
        BoundPanel panel,
        LookedTable table,
        IReadOnlyDictionary<string, IReadOnlySet<string>> known
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(known);
        var left = Fillable(panel).ToList();
        var matches = table
            .Columns.Select(column => new FieldMatch(
                column.Name,
                null,
                // Of a column of numbers with a slip of the pen the numbers are read as such, and the slip is told.
                column.NearlyType
                    ?? column.Type,
                column.NearlyType is null ? column.Pattern : column.NearlyPattern
            ))
            .ToList();
        // Our own exports have the stored value beside what people read.
        Match((column, name) => $"{column.Label} (value)".Equals(name, StringComparison.OrdinalIgnoreCase), "its stored values");
        Match((column, name) => column.Name.Equals(name, StringComparison.OrdinalIgnoreCase), "the same name");
        Match((column, name) => column.Label.Equals(name, StringComparison.OrdinalIgnoreCase), "the same label");
        Match(
            (column, name) => Plain(column.Name) == Plain(name) || Plain(column.Label) == Plain(name),
            "the same name but for signs"
        );
        MatchLikest();
        MatchByContent();
        var filled = matches.Select(match => match.Column).ToHashSet();
        var key =
            panel.Identity.Columns.All(filled.Contains) && panel.Identity.Columns.Count > 0
                ? panel.Identity.Columns
                : OtherKey(panel, filled);
        return new PanelImportSettings
        {
            Table = table.Name,
            Columns = matches,
            Key = key,
            Mode = key.Count > 0 && panel.CanEdit ? PanelImportMode.Upsert : PanelImportMode.Add,
        };

        void Match(Func<BoundColumn, string, bool> isSame, string because)
        {
            for (var place = 0; place < matches.Count; place++)
                if (matches[place].Column is null && left.Find(column => isSame(column, matches[place].Source)) is { } found)
                    Take(place, found, because);
        }

        void Take(int place, BoundColumn found, string because)
        {
            matches[place] = matches[place] with { Column = found.Name, Because = because };
            left.Remove(found);
        }

        // The likest pair first, so that no column takes what is more like another one.
        void MatchLikest()
        {
            var pairs =
                from place in Enumerable.Range(0, matches.Count)
                where matches[place].Column is null && matches[place].Source != RejectedRow.ReasonColumn
                from column in left
                let like = Math.Max(Likeness(matches[place].Source, column.Name), Likeness(matches[place].Source, column.Label))
                where like >= Alike
                orderby like descending
                select (place, column);
            foreach (var (place, column) in pairs.ToList())
                if (matches[place].Column is null && left.Contains(column))
                    Take(place, column, $"a name like “{column.Label}”");
        }

        void MatchByContent()
        {
            for (var place = 0; place < matches.Count; place++)
            {
                if (matches[place].Column is not null)
                    continue;
                var form = ValueForm.Find(matches[place].Type, matches[place].Pattern) ?? ValueForm.Text;
                var values = table
                    .First.Select(row => row[place]?.Trim())
                    .OfType<string>()
                    .Where(value => value.Length > 1)
                    .Select(value => form.Read(value) ?? value)
                    .Distinct()
                    .ToList();
                if (values.Count < EnoughValues)
                    continue;
                var best = left.Where(column => known.ContainsKey(column.Name))
                    .Select(column => (Column: column, Share: (double)values.Count(known[column.Name].Contains) / values.Count))
                    .OrderByDescending(one => one.Share)
                    .FirstOrDefault();
                if (best.Share >= SameContent)
                    Take(place, best.Column, "values that are there already");
            }
        }
    }

    // A column that is unique by itself tells records apart as well as the key does.
    private static IReadOnlyList<string> OtherKey(BoundPanel panel, HashSet<string?> filled) =>
        panel
            .Table.Keys.FirstOrDefault(key =>
                key.Columns.All(filled.Contains) && key.Columns.All(name => panel.Find(name) is not null)
            )
            ?.Columns
        ?? [];

    // The share of pairs of letters that both have (L. R. Dice, "Measures of the amount of ecologic association between species", 1945).
    private static double Likeness(string one, string other)
    {
        var (a, b) = (Pairs(Plain(one)), Pairs(Plain(other)));
        return a.Count < 2 || b.Count < 2 ? 0 : 2.0 * a.Intersect(b).Count() / (a.Count + b.Count);
    }

    private static HashSet<string> Pairs(string name) =>
        [.. Enumerable.Range(0, Math.Max(name.Length - 1, 0)).Select(place => name.Substring(place, 2))];

    private static string Plain(string name) => PlannedTable.Tidy(name, name).Replace("_", "", StringComparison.Ordinal);
}
