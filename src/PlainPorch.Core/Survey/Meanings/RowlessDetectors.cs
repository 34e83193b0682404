using System.Collections.Frozen;
using System.Text.RegularExpressions;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>
/// Finds what columns without values are, by name, comment, default and check together. They are proposed with less confidence than
/// what values show, and get no reading.
/// </summary>
internal static partial class RowlessDetectors
{
    private const int SearchTime = 100;

    private static readonly FrozenSet<string> _addresses = new[]
    {
        "url",
        "uri",
        "link",
        "href",
        "website",
        "homepage",
        "webpage",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _moments = new[]
    {
        "clock",
        "timestamp",
        "epoch",
        "unixtime",
        "mtime",
        "ctime",
        "atime",
        "ts",
        "time",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _durations = new[]
    {
        "duration",
        "timeout",
        "interval",
        "delay",
        "ttl",
        "lifetime",
        "elapsed",
        "seconds",
        "minutes",
        "uptime",
        "downtime",
        "latency",
    }.ToFrozenSet();

    private static readonly FrozenSet<string> _sizes = new[] { "size", "bytes", "filesize", "quota" }.ToFrozenSet();

    private static readonly FrozenSet<string> _flags = new[]
    {
        "is",
        "has",
        "can",
        "may",
        "allow",
        "allows",
        "allowed",
        "enable",
        "enabled",
        "disabled",
        "active",
        "inactive",
        "visible",
        "hidden",
        "required",
        "flag",
        "show",
        "use",
        "deleted",
        "archived",
        "locked",
        "published",
        "default",
        "private",
        "public",
    }.ToFrozenSet();

    public static ColumnMeaning? Address(ColumnFacts column) =>
        column is { IsText: true, Filled.Count: 0, Words.Count: > 0 }
        && (_addresses.Contains(column.Words[^1]) || Comments(column, "web address", "url"))
            ? new(Meaning.Url, 0.75, "its name or its comment says that it is the address of a page")
            : null;

    public static ColumnMeaning? Moment(ColumnFacts column)
    {
        if (!IsEmptyWhole(column) || column.Kind is ValueKind.SmallInteger)
            return null;
        if (Comments(column, "unix", "epoch", "1970"))
            return new(Meaning.TimeInDisguise, 0.85, "its comment says that it counts from 1970");
        return
            _moments.Contains(column.Words[^1])
            || (column.Words.Count > 1 && column.Words[^1] is "at" or "on")
            || SetsSeconds(column)
            ? new(Meaning.TimeInDisguise, 0.65, "a whole number named like a moment: seconds since 1970, most likely")
            : null;
    }

    public static ColumnMeaning? YesNo(ColumnFacts column)
    {
        if (!IsEmptyWhole(column) || column.IsKey)
            return null;
        var isNamed = _flags.Contains(column.Words[0]) || _flags.Contains(column.Words[^1]);
        var isChecked = column.Table.Checks.Any(check =>
            check.Columns is [var only] && only == column.Column.Name && ZeroOrOne().IsMatch(check.Sql)
        );
        var isDefaulted = column.Column.DefaultSql is { } sql && ZeroOrOneDefault().IsMatch(sql);
        if (isChecked)
            return new(Meaning.YesNoInDisguise, 0.85, "a check allows 0 and 1 alone");
        return (isNamed, isDefaulted) switch
        {
            (true, true) => new(Meaning.YesNoInDisguise, 0.75, "it is named like yes or no, and its default is one of 0 and 1"),
            (true, false) => new(Meaning.YesNoInDisguise, 0.6, "a whole number named like yes or no"),
            _ => null,
        };
    }

    public static ColumnMeaning? Measure(ColumnFacts column)
    {
        if (!IsEmptyWhole(column) || column.IsKey)
            return null;
        if (_durations.Contains(column.Words[^1]))
            return new(Meaning.Quantity, 0.7, "its name suggests how long something takes");
        return _sizes.Contains(column.Words[^1]) || Comments(column, "in bytes")
            ? new(Meaning.Quantity, 0.7, "its name or its comment suggests a size in bytes")
            : null;
    }

    private static bool IsEmptyWhole(ColumnFacts column) =>
        column.Column.Type.IsInteger && column.Filled.Count == 0 && column.Words.Count > 0;

    private static bool Comments(ColumnFacts column, params ReadOnlySpan<string> words)
    {
        foreach (var word in words)
        {
            if (column.Column.Comment?.Contains(word, StringComparison.OrdinalIgnoreCase) == true)
                return true;
        }

        return false;
    }

    private static bool SetsSeconds(ColumnFacts column) =>
        column.Column.DefaultSql?.Contains("epoch", StringComparison.OrdinalIgnoreCase) == true;

    [GeneratedRegex(@"(ANY \(ARRAY\[0, 1\]\)|ANY \(ARRAY\[1, 0\]\)|>= 0\)\s+AND\s+\(.*<= 1\))", RegexOptions.None, SearchTime)]
    private static partial Regex ZeroOrOne();

    [GeneratedRegex(@"^'?\(?[01]\)?'?(::\w+)?$", RegexOptions.None, SearchTime)]
    private static partial Regex ZeroOrOneDefault();
}
