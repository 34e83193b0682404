using System.Collections.Frozen;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey;

/// <summary>The different values of a column that may refer to something.</summary>
internal sealed class ColumnValues
{
    private const int LongText = 40;

    // What old programs write where others leave empty.
    private static readonly FrozenSet<string> _noneValues = new[] { "", "0", "-1", "00", "000", "00000000" }.ToFrozenSet();

    private readonly List<string> _distinct;

    public ColumnValues(Column column, IReadOnlyList<string?> values)
    {
        var filled = values.OfType<string>().ToList();
        _distinct = [.. filled.Distinct()];
        AverageLength = _distinct.Count == 0 ? 0 : _distinct.Average(value => value.Length);
        IsLongText = column.Type.Kind is ValueKind.Text && AverageLength > LongText;
        AreDigits =
            _distinct.Exists(value => !_noneValues.Contains(value))
            && _distinct.TrueForAll(value =>
                _noneValues.Contains(value) || (value.Length < 18 && value.Trim().All(char.IsAsciiDigit))
            );
    }

    public bool IsEmpty => _distinct.Count == 0;

    public double AverageLength { get; }

    public bool IsLongText { get; }

    public bool AreDigits { get; }

    /// <summary>
    /// How many values were compared, and the share that the key has; null where the key was seen in part only.
    /// </summary>
    public (int Compared, double? Coverage) CompareWith(KeyValues key, ValueConversion conversion)
    {
        var values = _distinct.Where(value => !_noneValues.Contains(value) || key.Values.Contains(value)).ToList();
        // Of bytes only the length was read.
        if (values.Count == 0 || !key.IsComplete || key.Column.Type.Kind is ValueKind.Binary)
            return (0, null);
        var keys = conversion is ValueConversion.TrimmedAnyCase ? key.AlikeValues : key.Values;
        var found = values.Count(value => keys.Contains(Convert(value, conversion)));
        return (values.Count, (double)found / values.Count);
    }

    private static string Convert(string value, ValueConversion conversion)
    {
        if (conversion == ValueConversion.None)
            return value;
        if (conversion == ValueConversion.TrimmedAnyCase)
            return KeyValues.Alike(value);
        var trimmed = value.Trim().TrimStart('0');
        return trimmed.Length == 0 ? "0" : trimmed;
    }
}
