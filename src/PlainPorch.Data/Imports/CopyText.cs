using System.Buffers;
using Npgsql;

namespace PlainPorch.Data.Imports;

/// <summary>Writes rows as <c>COPY</c> reads them in its text format (PostgreSQL manual, "COPY", File Formats).</summary>
/// <param name="writer">What PostgreSQL gives to write to.</param>
internal sealed class CopyText(TextWriter writer)
{
    private static readonly SearchValues<char> _special = SearchValues.Create("\\\n\r\t");

    /// <summary>Copies rows; where writing them fails, none is copied.</summary>
    /// <param name="connection">The connection.</param>
    /// <param name="sql">The <c>COPY</c>.</param>
    /// <param name="write">Writes the rows.</param>
    /// <param name="cancellationToken">Stops it.</param>
    /// <exception cref="PostgresException">A row is refused.</exception>
    public static async Task IntoAsync(
        NpgsqlConnection connection,
        string sql,
        Action<CopyText> write,
        CancellationToken cancellationToken
    )
    {
        var writer = await connection.BeginTextImportAsync(sql, cancellationToken);
        try
        {
            write(new CopyText(writer));
        }
        catch
        {
            await writer.CancelAsync();
            throw;
        }

        await writer.DisposeAsync();
    }

    /// <summary>Writes a value.</summary>
    /// <param name="value">The value; null for none.</param>
    /// <param name="isFirst">Whether it is the first one of its row.</param>
    public void Write(string? value, bool isFirst)
    {
        if (!isFirst)
            writer.Write('\t');
        if (value is null)
            writer.Write("\\N");
        else if (!value.AsSpan().ContainsAny(_special))
            writer.Write(value);
        else
            WriteEscaped(value);
    }

    /// <summary>Ends a row.</summary>
    public void EndRow() => writer.Write('\n');

    private void WriteEscaped(string value)
    {
        foreach (var one in value)
            switch (one)
            {
                case '\\':
                    writer.Write("\\\\");
                    break;
                case '\n':
                    writer.Write("\\n");
                    break;
                case '\r':
                    writer.Write("\\r");
                    break;
                case '\t':
                    writer.Write("\\t");
                    break;
                default:
                    writer.Write(one);
                    break;
            }
    }
}
