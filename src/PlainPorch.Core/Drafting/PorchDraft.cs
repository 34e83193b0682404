using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;

namespace PlainPorch.Core.Drafting;

/// <summary>
/// Drafts the panels of a whole porch at once: what belongs together under one heading, main tables first, tables that only
/// join others within these, lists of codes at the end.
/// </summary>
public static class PorchDraft
{
    private const string Lists = "Lists";
    private const string Loose = "Other records";
    private const string Views = "Views";
    private const string Logs = "Logs";
    private const string Copies = "Copies";
    private const string Workings = "Workings of the program";

    // More views than these are chosen one by one.
    private const int FewViews = 20;

    /// <summary>
    /// The tables that get a panel where nobody chose any: all that can be read, and views only where there are few of them.
    /// </summary>
    /// <param name="tables">The tables and views of the source.</param>
    public static IReadOnlyList<TableName> ByThemselves(IReadOnlyList<Table> tables)
    {
        ArgumentNullException.ThrowIfNull(tables);
        var readable = tables.Where(table => table is { Rights.Read: true, Columns.Count: > 0 }).ToList();
        var views = readable.Count(table => table.IsView);
        return
        [
            .. readable.Where(table => !table.IsView || views <= FewViews || views == readable.Count).Select(table => table.Name),
        ];
    }

    /// <summary>Drafts panels.</summary>
    /// <param name="tables">What was found of all tables of the source.</param>
    /// <param name="chosen">The tables to make panels for.</param>
    /// <param name="present">The panels that the porch has already; they stay as they are, but may be referred to.</param>
    /// <returns>The panels in the order of the menu.</returns>
    public static IReadOnlyList<DraftedPanel> Make(
        IReadOnlyList<TableFindings> tables,
        IReadOnlySet<TableName> chosen,
        IReadOnlyList<PanelDefinition> present
    )
    {
        ArgumentNullException.ThrowIfNull(tables);
        ArgumentNullException.ThrowIfNull(chosen);
        ArgumentNullException.ThrowIfNull(present);
        var byName = tables.ToDictionary(table => table.Table.Name);
        var usable = tables
            .Where(table => chosen.Contains(table.Table.Name) && table.Table is { Rights.Read: true, Columns.Count: > 0 })
            .ToList();
        var titles = new TitleDraft(byName);
        var slugs = present.Select(panel => panel.Slug).ToHashSet();
        var drafted = new List<DraftedPanel>();
        var place = present.Count == 0 ? 0 : present.Max(panel => panel.Place) + 1;
        foreach (var (group, members, why) in Groups(usable))
        {
            foreach (var table in members)
            {
                var draft = PanelDraft.Make(table, byName, titles, Slug.Make(table.Label, slugs));
                slugs.Add(draft.Panel.Slug);
                var isHidden = table.Shape is TableShape.Join;
                draft = WithBelonging(draft, table, byName);
                drafted.Add(
                    new DraftedPanel(
                        draft.Panel with
                        {
                            Group = group,
                            Place = place++,
                            IsHidden = isHidden,
                        },
                        [
                            .. draft.Reasons,
                            new("group", why),
                            .. isHidden
                                ? [new DraftReason("isHidden", "it joins two other tables, and is reached from both")]
                                : Array.Empty<DraftReason>(),
                        ]
                    )
                );
            }
        }

        var all = present.Concat(drafted.Select(draft => draft.Panel)).ToList();
        IReadOnlyList<DraftedPanel> whole =
        [
            .. drafted.Select(draft => WithLookupTitles(WithRelated(draft, all, IsExtension), all, titles)),
        ];
        return WithChecks(whole, byName, present);

        // At most one of its records refers to each.
        bool IsExtension(PanelDefinition panel, string column) =>
            byName.TryGetValue(panel.Table, out var found)
            && found.Table.Keys.Any(key => key.Columns is [var only] && only == column);
    }

    private static IEnumerable<(string Group, IReadOnlyList<TableFindings> Members, string Why)> Groups(
        List<TableFindings> tables
    )
    {
        var byName = tables.ToDictionary(table => table.Table.Name);
        var apart = tables.ToLookup(Apart);
        var rest = tables.Where(table => Apart(table) is null).ToList();
        var clusters = TableClusters.Find(
            [.. rest.Select(table => table.Table.Name)],
            tables.ToDictionary(table => table.Table.Name, table => table.Shape),
            [.. tables.SelectMany(table => table.References)]
        );
        var groups = clusters
            .Where(cluster => cluster.Count > 1)
            .Select(cluster =>
                (IReadOnlyList<TableFindings>)
                    [.. cluster.Select(name => byName[name]).OrderByDescending(table => Weight(table, tables))]
            )
            .ToList();
        groups =
        [
            .. groups
                .GroupBy(cluster => cluster[0].Table.Name.Schema)
                .OrderByDescending(schema => schema.Max(cluster => Weight(cluster[0], tables)))
                .SelectMany(schema => schema.OrderByDescending(cluster => Weight(cluster[0], tables))),
        ];
        var names = new HashSet<string>();
        foreach (var members in groups)
            yield return (
                NameOf(members, names),
                members,
                "these tables refer to each other more than to the rest, or their names begin alike"
            );
        var loose = clusters
            .Where(cluster => cluster.Count == 1)
            .Select(cluster => byName[cluster[0]])
            .OrderByDescending(table => Weight(table, tables))
            .ToList();
        if (loose.Count > 0)
            yield return (groups.Count == 0 ? "" : Loose, loose, "it is not closely related to other tables");
        foreach (
            var (name, why) in new[]
            {
                (Views, "it is a view"),
                (Lists, "others choose from it"),
                (Logs, "it is a log of events"),
                (Copies, "it looks like a copy of another table"),
                (Workings, "the program keeps its own workings there, and nobody's records"),
            }
        )
        {
            if (apart[name].Any())
                yield return (name, [.. apart[name]], why);
        }
    }

    private static string? Apart(TableFindings table) =>
        table.Table.IsView ? Views
        : ProgramTables.IsOne(table.Table) ? Workings
        : table.Shape switch
        {
            TableShape.CodeList or TableShape.Lookup => Lists,
            TableShape.Log => Logs,
            TableShape.Copy => Copies,
            _ => null,
        };

    // What many tables refer to, and what holds many records, is what an office is about.
    private static double Weight(TableFindings table, IReadOnlyList<TableFindings> all) =>
        all.Count(other => other.References.Any(reference => reference.Target == table.Table.Name))
        + (0.4 * Math.Log10(table.Rows + 1))
        - (table.Shape is TableShape.Main or TableShape.Hierarchy ? 0 : 2);

    private static string NameOf(IReadOnlyList<TableFindings> members, HashSet<string> taken)
    {
        var mains = members
            .Where(table => table.Shape is TableShape.Main or TableShape.Hierarchy)
            .DefaultIfEmpty(members[0])
            .Take(2)
            .Select(table => table.Label)
            .ToList();
        var name =
            mains.Count == 1 || members.Count == 2 && members[1].Shape is not TableShape.Main
                ? mains[0]
                : $"{mains[0]} and {char.ToLowerInvariant(mains[1][0])}{mains[1][1..]}";
        return taken.Add(name)
            ? name
            : members.Select(table => $"{name} ({table.Table.Name.Schema})").FirstOrDefault(taken.Add) ?? name;
    }

    /// <summary>The records of a porch's panels that could be shown with the records of one, in the order of the menu.</summary>
    /// <param name="panel">The panel.</param>
    /// <param name="all">All panels of the porch.</param>
    public static IReadOnlyList<RelatedRecords> RelatedOf(PanelDefinition panel, IReadOnlyList<PanelDefinition> all)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(all);
        var found = (
            from other in all
            from column in other.Columns
            where column.Lookup is { Where: null } lookup && lookup.Table == panel.Table
            let through = other.IsHidden
                ? other.Columns.FirstOrDefault(side =>
                    side != column && side.Lookup is not null && side.Lookup.Table != panel.Table
                )
                : null
            orderby other.Place
            select (Panel: other, Column: column, Through: through)
        ).ToList();
        return
        [
            .. found.Select(related => new RelatedRecords
            {
                Panel = related.Panel.Slug,
                Column = related.Column.Name,
                Label =
                    related.Through is not null ? LabelOf(all, related.Through) ?? related.Panel.Label
                    : found.Count(same => same.Panel == related.Panel) == 1 ? related.Panel.Label
                    : $"{related.Panel.Label} ({related.Column.Label})",
                Through = related.Through?.Name,
            }),
        ];
    }

    // A stay of a boat at a berth belongs to the boat, of which there are more: what a record is part of is most often the finer
    // of
    // the things that it names. What brings two together belongs to both.
    private static DraftedPanel WithBelonging(
        DraftedPanel draft,
        TableFindings table,
        Dictionary<TableName, TableFindings> byName
    )
    {
        var owners = draft
            .Panel.Columns.Where(column =>
                column.Lookup is { Where: null } lookup
                && lookup.Table != table.Table.Name
                // Whoever declared that a record can do without the other one has decided already.
                && !table.Table.ForeignKeys.Any(key =>
                    key.Columns.Contains(column.Name) && table.Table.Find(column.Name)!.IsNullable
                )
                && byName.TryGetValue(lookup.Table, out var target)
                && target.Shape is not (TableShape.CodeList or TableShape.Lookup)
            )
            .OrderByDescending(column => byName[column.Lookup!.Table].Rows)
            .Take(table.Shape is TableShape.Join ? int.MaxValue : 1)
            .Select(column => column.Name)
            .ToHashSet();
        if (owners.Count == 0)
            return draft;
        // Other programs miss what leaves its table: that is for a person to choose.
        if (draft.Panel.Marker is null)
        {
            return draft with
            {
                Reasons =
                [
                    .. draft.Reasons,
                    .. owners.Select(column => new DraftReason(
                        $"columns.{column}.onRemoval",
                        "it has no marker column, so it stays in its table, where other programs still find it"
                    )),
                ],
            };
        }

        var columns = draft.Panel.Columns.Select(column =>
            owners.Contains(column.Name)
                ? column with
                {
                    Lookup = column.Lookup! with { OnRemoval = RemovalEffect.GoesAlong },
                }
                : column
        );
        return new DraftedPanel(
            draft.Panel with
            {
                Columns = [.. columns],
            },
            [
                .. draft.Reasons,
                .. owners.Select(column => new DraftReason(
                    $"columns.{column}.onRemoval",
                    table.Shape is TableShape.Join
                        ? "it joins two records and has no meaning without either"
                        : "of everything it refers to, it is most closely a part of this"
                )),
            ]
        );
    }

    private static DraftedPanel WithRelated(
        DraftedPanel draft,
        List<PanelDefinition> all,
        Func<PanelDefinition, string, bool> isExtension
    )
    {
        var related = RelatedOf(draft.Panel, all)
            .Select(found => found with { InForm = isExtension(all.First(panel => panel.Slug == found.Panel), found.Column) })
            .ToList();
        return new DraftedPanel(
            draft.Panel with
            {
                Related = related,
            },
            related.Count == 0
                ? draft.Reasons
                :
                [
                    .. draft.Reasons,
                    new("related", $"{string.Join(", ", related.Select(found => found.Label).Distinct())} refer to it"),
                ]
        );
    }

    // What a check asks of other records is named by their panels.
    private static IReadOnlyList<DraftedPanel> WithChecks(
        IReadOnlyList<DraftedPanel> drafted,
        Dictionary<TableName, TableFindings> byName,
        IReadOnlyList<PanelDefinition> present
    )
    {
        if (drafted.All(draft => byName[draft.Panel.Table].Checks.Count == 0))
            return drafted;
        var snapshot = new SchemaSnapshot
        {
            TakenAt = default,
            ServerVersion = "",
            Tables = [.. byName.Values.Select(found => found.Table)],
        };
        var porch = new PorchPanels(snapshot, [.. present, .. drafted.Select(draft => draft.Panel)]);
        return
        [
            .. drafted.Select(draft =>
            {
                if (byName[draft.Panel.Table].Checks.Count == 0)
                    return draft;
                var panel = porch.Bind(draft.Panel, sourceIsReadOnly: true)!;
                var checks = CheckDraft
                    .NotYetIn(byName[draft.Panel.Table].Checks, panel, porch)
                    .DistinctBy(one => one.Check.Name)
                    .ToList();
                return new DraftedPanel(
                    draft.Panel with
                    {
                        Checks = [.. checks.Select(one => one.Check)],
                    },
                    [
                        .. draft.Reasons,
                        .. checks.Select(one => new DraftReason(
                            $"checks.{one.Check.Name}",
                            "nearly all rows keep to it, and it was said to be right"
                        )),
                    ]
                );
            }),
        ];
    }

    private static string? LabelOf(IReadOnlyList<PanelDefinition> all, PanelColumn column) =>
        all.FirstOrDefault(panel => panel.Table == column.Lookup!.Table)?.Label;

    // A table without a panel has no title of its own: the lookup brings it.
    private static DraftedPanel WithLookupTitles(DraftedPanel draft, List<PanelDefinition> all, TitleDraft titles) =>
        draft with
        {
            Panel = draft.Panel with
            {
                Columns =
                [
                    .. draft.Panel.Columns.Select(column =>
                        column.Lookup is { Title: null } lookup && all.TrueForAll(panel => panel.Table != lookup.Table)
                            ? column with
                            {
                                Lookup = lookup with { Title = titles.For(lookup.Table)?.Template },
                            }
                            : column
                    ),
                ],
            },
        };
}
