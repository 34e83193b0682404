using System.Globalization;
using System.Text;

namespace PlainPorch.Data.Rows;

/// <summary>
/// What a query looks like without its values, and the values in the order in which the query meets them: two queries of one
/// shape have the same SQL.
/// </summary>
internal sealed class QueryShape
{
    private const char Separator = '\u001f';

    private readonly StringBuilder _key = new();
    private readonly List<object> _values = [];

    /// <summary>The shape as text.</summary>
    public string Key => _key.ToString();

    /// <summary>The values.</summary>
    public IReadOnlyList<object> Values => _values;

    /// <summary>The shape and the values as one text.</summary>
    public string KeyWithValues =>
        Key
        + string.Join(
            '\u001e',
            _values.Select(value =>
                value is System.Collections.IEnumerable several and not string
                    ? string.Join(Separator, several.Cast<object>())
                    : value.ToString()
            )
        );

    /// <summary>Whether the best plan depends on the values, because they may leave few rows or many.</summary>
    public bool DependsOnValues { get; private set; }

    /// <summary>Notes that the best plan depends on the values.</summary>
    public void NoteThatValuesDecide() => DependsOnValues = true;

    /// <summary>Notes that one plan is the best, whatever the values.</summary>
    public void NoteThatOnePlanServes() => DependsOnValues = false;

    /// <summary>Adds something that is part of the SQL.</summary>
    public QueryShape Add(string part)
    {
        _key.Append(part).Append(Separator);
        return this;
    }

    /// <summary>Adds a number that is part of the SQL.</summary>
    public QueryShape Add(int part) => Add(part.ToString(CultureInfo.InvariantCulture));

    /// <summary>Adds something that is sent as a parameter.</summary>
    public QueryShape AddValue(object value)
    {
        _key.Append('?').Append(Separator);
        _values.Add(value);
        return this;
    }
}
