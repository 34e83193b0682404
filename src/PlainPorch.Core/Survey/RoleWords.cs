using System.Collections.Frozen;

namespace PlainPorch.Core.Survey;

/// <summary>Words of names that say what part a record plays, rather than what it is.</summary>
internal static class RoleWords
{
    /// <summary>Words for a record of the same table that stands above another, as a folder or a superior does.</summary>
    public static FrozenSet<string> SuperiorWords { get; } =
        new[]
        {
            "parent",
            "superior",
            "supervisor",
            "manager",
            "mgr",
            "boss",
            "chief",
            "above",
            "upper",
            "ancestor",
            "reports",
        }.ToFrozenSet(StringComparer.OrdinalIgnoreCase);

    /// <summary>Words that point at another record of the same table.</summary>
    public static FrozenSet<string> SelfRoles { get; } =
        new[]
        {
            "parent",
            "master",
            "root",
            "prev",
            "previous",
            "next",
            "original",
            "orig",
            "base",
            "copy",
            "child",
            "super",
            "superior",
            "main",
            "template",
            "replaced",
            "successor",
            "predecessor",
            "dup",
            "duplicate",
            "alias",
            "inherit",
            "superseded",
            "obsolete",
            "merged",
        }.ToFrozenSet();

    /// <summary>Words that say what a person did or does.</summary>
    public static FrozenSet<string> PersonRoles { get; } =
        new[]
        {
            "author",
            "creator",
            "editor",
            "owner",
            "manager",
            "approver",
            "assignee",
            "reviewer",
            "reporter",
            "sender",
            "recipient",
            "inserter",
            "updater",
            "responsible",
            "supervisor",
            "operator",
            "requester",
            "requestor",
            "modifier",
            "poster",
            "assigned",
            "uploader",
            "salesperson",
            "boss",
            "chief",
            "by",
        }.ToFrozenSet();

    /// <summary>What records have, not what they are: two columns called "name" have nothing to do with each other.</summary>
    public static FrozenSet<string> PlainWords { get; } =
        new[]
        {
            "name",
            "title",
            "label",
            "value",
            "type",
            "status",
            "state",
            "description",
            "descr",
            "position",
            "version",
            "date",
            "time",
            "order",
            "sort",
            "lang",
            "email",
            "hash",
            "token",
            "path",
            "url",
            "text",
            "data",
            "level",
            "kind",
            "class",
            "short",
            "long",
            "full",
            "display",
            "unique",
        }.ToFrozenSet();

    /// <summary>Plain words of which a table of their own holds the list: "status" in "order_status".</summary>
    public static FrozenSet<string> ListedWords { get; } =
        new[] { "type", "kind", "class", "status", "state", "level", "lang", "version" }.ToFrozenSet();

    /// <summary>Words that tables of lists end in.</summary>
    public static FrozenSet<string> ListWords { get; } =
        new[]
        {
            "type",
            "kind",
            "code",
            "list",
            "status",
            "value",
            "category",
            "class",
            "option",
            "lookup",
            "enum",
            "choice",
        }.ToFrozenSet();

    /// <summary>What tables of persons are called.</summary>
    public static FrozenSet<string> Persons { get; } =
        new[]
        {
            "user",
            "person",
            "people",
            "staff",
            "employee",
            "member",
            "account",
            "contact",
            "usr",
            "worker",
            "personnel",
            "principal",
            "individual",
            "party",
        }.ToFrozenSet();

    /// <summary>What a table that brings two records of one other table together is called by.</summary>
    public static FrozenSet<string> LinkWords { get; } =
        new[]
        {
            "relationship",
            "relation",
            "rel",
            "link",
            "map",
            "mapping",
            "dependency",
            "xref",
            "tree",
            "hierarchy",
            "closure",
            "pair",
        }.ToFrozenSet();

    /// <summary>What tables of the same things in another state are called by: they refer to each other.</summary>
    public static FrozenSet<string> VariantWords { get; } =
        new[] { "template", "draft", "prototype", "archive", "history", "revision" }.ToFrozenSet();

    /// <summary>What the main table of several is called by where none bears the bare name.</summary>
    public static FrozenSet<string> HeadWords { get; } =
        new[] { "info", "header", "head", "master", "main", "base", "basic" }.ToFrozenSet();

    /// <summary>The two sides of such a table.</summary>
    public static FrozenSet<string> Sides { get; } =
        new[]
        {
            "subject",
            "object",
            "source",
            "target",
            "src",
            "dst",
            "dest",
            "destination",
            "from",
            "to",
            "parent",
            "child",
            "up",
            "down",
            "left",
            "right",
            "first",
            "second",
            "ancestor",
            "descendant",
            "predecessor",
            "successor",
        }.ToFrozenSet();

    /// <summary>Numbers that count within something.</summary>
    public static FrozenSet<string> CountingWords { get; } =
        new[]
        {
            "line",
            "lin",
            "seq",
            "page",
            "version",
            "order",
            "row",
            "day",
            "house",
            "phone",
            "tel",
            "fax",
            "serial",
            "batch",
            "sort",
            "pos",
            "lot",
            "room",
            "floor",
            "year",
            "week",
            "month",
            "step",
            "item",
            "level",
            "revision",
            "build",
            "port",
            "street",
            "bed",
            "seat",
            "position",
        }.ToFrozenSet();
}
