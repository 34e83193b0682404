using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Definition;

/// <summary>Drafts a panel from a table and some of its rows: a usable start for the developer to correct.</summary>
public static class PanelDraft
{
    /// <summary>How many columns a drafted list shows at the most.</summary>
    public const int MaxListColumns = 8;

    // Below this many rows a column with one value may still be an interesting one.
    private const int EnoughRows = 20;
    private const int LongText = 60;

    private static readonly string[] _titleWords =
        ["title", "name", "label", "subject", "surname", "lastname", "caption", "descr", "description", "nm"];

    /// <summary>Drafts a panel.</summary>
    /// <param name="table">The table or view.</param>
    /// <param name="sample">Some of its rows; may be empty.</param>
    /// <param name="takenSlugs">The slugs of the porch's other panels.</param>
    /// <param name="vocabulary">The words of the schema, for labels; null for those of the column alone.</param>
    public static PanelDefinition Make(Table table, TableSample sample, IReadOnlySet<string> takenSlugs, Vocabulary? vocabulary = null)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(sample);
        var label = Labels.ForTable(table.Name.Name);
        var identity = RecordIdentity.Of(table);
        var meanings = table.Columns.ToDictionary(column => column.Name, column => MeaningFinder.Find(table, column, sample.Values(column.Name)));
        var title = TitleColumn(table, sample, identity, meanings);
        var listed = ListColumns(table, sample, identity, title, meanings);
        return new PanelDefinition
        {
            Slug = Slug.Make(label, takenSlugs),
            Label = label,
            RecordLabel = Labels.ForRecord(label),
            Table = table.Name,
            Title = title is null ? "" : TitleTemplate.Of(title),
            Columns = [.. table.Columns.Select(column => DraftColumn(column, listed, vocabulary))],
        };
    }

    private static PanelColumn DraftColumn(Column column, HashSet<string> listed, Vocabulary? vocabulary) => new()
    {
        Name = column.Name,
        Label = vocabulary is null ? Labels.ForColumn(column.Name) : Labels.ForColumn(column, vocabulary),
        InList = listed.Contains(column.Name),
        Searched = column.Type.Kind is ValueKind.Text,
        InForm = true,
        ReadOnly = column.IsWrittenByDatabaseOnly,
    };

    private static string? TitleColumn(Table table, TableSample sample, RecordIdentity identity, Dictionary<string, ColumnMeaning> meanings)
    {
        var best = table.Columns
            .Where(column => column.Type.Kind is ValueKind.Text && !IsLong(column, sample) && !IsUninformative(column, sample))
            .Where(column => meanings[column.Name].Meaning is not (Meaning.Sensitive or Meaning.CreatedBy or Meaning.ChangedBy or Meaning.Choice or Meaning.Code))
            .Select(column => (column.Name, Score: TitleScore(column, sample)))
            .OrderByDescending(candidate => candidate.Score)
            .FirstOrDefault();
        if (best.Score > 0)
            return best.Name;
        return identity.Exists ? identity.Columns[0] : table.Columns.Count > 0 ? table.Columns[0].Name : null;
    }

    // A word of the name that says "title" outweighs everything; else the text that differs most from row to row.
    private static double TitleScore(Column column, TableSample sample)
    {
        var words = IdentifierWords.Split(column.Name);
        var named = words.Count > 0 && _titleWords.Contains(words[^1]) ? 2 : 0;
        var values = sample.Values(column.Name);
        if (values.Count == 0)
            return named;
        var filled = values.Where(value => !string.IsNullOrWhiteSpace(value)).ToList();
        var variety = (double)filled.Distinct().Count() / values.Count;
        var wordy = (double)filled.Count(value => value!.Any(char.IsLetter) && value!.Length >= 3) / values.Count;
        return wordy < 0.5 ? 0 : named + (variety * wordy);
    }

    private static HashSet<string> ListColumns(
        Table table, TableSample sample, RecordIdentity identity, string? title, Dictionary<string, ColumnMeaning> meanings)
    {
        var useful = table.Columns
            .Select((column, position) => (column.Name, Score: Usefulness(column, sample, identity, title, meanings[column.Name].Meaning) - (0.1 * position)))
            .Where(candidate => candidate.Score > -1000)
            .OrderByDescending(candidate => candidate.Score)
            .Take(MaxListColumns);
        return [.. useful.Select(candidate => candidate.Name)];
    }

    private static double Usefulness(Column column, TableSample sample, RecordIdentity identity, string? title, Meaning meaning)
    {
        // A national number splashed over a list is what nobody asked for, key or not.
        if (meaning is Meaning.Sensitive)
            return double.NegativeInfinity;
        if (column.Name == title || identity.Columns.Contains(column.Name))
            return 100;
        if (column.Type.Kind is ValueKind.Binary or ValueKind.Json or ValueKind.Array or ValueKind.Other)
            return double.NegativeInfinity;
        if (IsLong(column, sample) || IsUninformative(column, sample))
            return -50;
        // Who entered or changed a record and when is looked up, not looked over.
        var keptByMachine = column.Type.Kind is ValueKind.Uuid
            || meaning is Meaning.CreatedAt or Meaning.CreatedBy or Meaning.ChangedAt or Meaning.ChangedBy or Meaning.RemovedMarker or Meaning.Html;
        return (keptByMachine ? -20 : 0) - (10 * EmptyShare(column, sample));
    }

    private static bool IsLong(Column column, TableSample sample)
    {
        if (column.Type.Kind is not ValueKind.Text)
            return false;
        var filled = sample.Values(column.Name).OfType<string>().ToList();
        return filled.Count > 0 && filled.Average(value => value.Length) > LongText;
    }

    private static bool IsUninformative(Column column, TableSample sample)
    {
        var values = sample.Values(column.Name);
        return values.Count >= EnoughRows && values.Distinct().Take(2).Count() < 2;
    }

    private static double EmptyShare(Column column, TableSample sample)
    {
        var values = sample.Values(column.Name);
        return values.Count == 0 ? 0 : (double)values.Count(string.IsNullOrWhiteSpace) / values.Count;
    }
}
