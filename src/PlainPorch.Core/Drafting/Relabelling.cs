using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Drafting;

/// <summary>Gives a panel the labels that changed words make, and leaves alone those that were edited by hand.</summary>
public static class Relabelling
{
    // No column is called so.
    private const string OfPanel = "";

    /// <summary>
    /// The labels of a freshly drafted panel by column, and under "" that of the panel itself: who compares with them later sees
    /// what was edited.
    /// </summary>
    public static IReadOnlyDictionary<string, string> LabelsOf(PanelDefinition panel)
    {
        ArgumentNullException.ThrowIfNull(panel);
        var labels = panel.Columns.ToDictionary(column => column.Name, column => column.Label);
        labels[OfPanel] = panel.Label;
        return labels;
    }

    /// <summary>A panel with labels as <see cref="LabelsOf"/> gives them.</summary>
    public static PanelDefinition With(PanelDefinition panel, IReadOnlyDictionary<string, string> labels)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(labels);
        return panel with
        {
            Label = labels.GetValueOrDefault(OfPanel, panel.Label),
            Columns =
            [
                .. panel.Columns.Select(column => column with { Label = labels.GetValueOrDefault(column.Name, column.Label) }),
            ],
        };
    }

    /// <summary>Makes labels anew.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="drafted">The labels as they were drafted last, as <see cref="LabelsOf"/> gives them.</param>
    /// <param name="table">Its table.</param>
    /// <param name="words">The words of the schema with the source's own.</param>
    public static RelabelledPanel Apply(
        PanelDefinition panel,
        IReadOnlyDictionary<string, string> drafted,
        Table table,
        Vocabulary words
    )
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(drafted);
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(words);
        var labels = drafted.ToDictionary();
        var changed = 0;
        var columns = panel
            .Columns.Select(column =>
                table.Find(column.Name) is { } known
                && Anew(column.Name, column.Label, Label(table, known, column, words)) is { } label
                    ? column with
                    {
                        Label = label,
                    }
                    : column
            )
            .ToList();
        var name = Anew(OfPanel, panel.Label, words.Labels.ForTable(table.Name));
        return new RelabelledPanel(
            panel with
            {
                Columns = columns,
                Label = name ?? panel.Label,
                RecordLabel = name is null ? panel.RecordLabel : Labels.ForRecord(name),
            },
            labels,
            changed
        );

        string? Anew(string key, string present, string made)
        {
            if (!labels.TryGetValue(key, out var before) || before != present || made == present)
                return null;
            changed++;
            labels[key] = made;
            return made;
        }
    }

    private static string Label(Table table, Column known, PanelColumn column, Vocabulary words) =>
        column.Lookup is null
            ? words.Labels.ForColumn(table.Name, known)
            : Labels.ForLookup(words.Labels.ForColumn(table.Name, known));
}

/// <summary>A panel with its labels made anew.</summary>
/// <param name="Panel">The panel.</param>
/// <param name="Labels">The labels as they are drafted now.</param>
/// <param name="Changed">How many of them changed.</param>
public sealed record RelabelledPanel(PanelDefinition Panel, IReadOnlyDictionary<string, string> Labels, int Changed);
