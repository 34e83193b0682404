using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>A reading of texts alone, which are read as texts where it does not say otherwise.</summary>
public abstract record TextReading : Reading
{
    /// <inheritdoc/>
    public sealed override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.Kind is ValueKind.Text;
    }

    /// <inheritdoc/>
    public override ColumnType As(ColumnType stored) => stored;

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored) => Needs("texts", stored);
}
