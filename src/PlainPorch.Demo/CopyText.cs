using System.Globalization;
using System.Text;

namespace PlainPorch.Demo;

/// <summary>Writes rows in COPY's text format (PostgreSQL manual, "COPY", "Text Format").</summary>
internal static class CopyText
{
    public static void AppendRow(StringBuilder line, object?[] row)
    {
        for (var i = 0; i < row.Length; i++)
        {
            if (i > 0)
                line.Append('\t');
            AppendValue(line, row[i]);
        }

        line.Append('\n');
    }

    private static void AppendValue(StringBuilder line, object? value)
    {
        switch (value)
        {
            case null:
                line.Append("\\N");
                break;
            case byte[] bytes:
                line.Append("\\\\x").Append(Convert.ToHexStringLower(bytes));
                break;
            case DateOnly date:
                line.Append(date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
                break;
            case DateTime moment:
                line.Append(
                    moment.ToString(
                        moment.Kind == DateTimeKind.Utc ? "yyyy-MM-dd HH:mm:ss'Z'" : "yyyy-MM-dd HH:mm:ss",
                        CultureInfo.InvariantCulture
                    )
                );
                break;
            case bool flag:
                line.Append(flag ? 't' : 'f');
                break;
            case string[] items:
                AppendText(line, "{" + string.Join(',', items.Select(item => $"\"{item}\"")) + "}");
                break;
            default:
                AppendText(line, Convert.ToString(value, CultureInfo.InvariantCulture)!);
                break;
        }
    }

    private static void AppendText(StringBuilder line, string text)
    {
        foreach (var c in text)
        {
            _ = c switch
            {
                '\\' => line.Append("\\\\"),
                '\t' => line.Append("\\t"),
                '\n' => line.Append("\\n"),
                '\r' => line.Append("\\r"),
                _ => line.Append(c),
            };
        }
    }
}
