namespace PlainPorch.Core.Definition;

/// <summary>
/// Something that must hold for every record that is written, by a form, a cell, a change of many, bringing back, merging or the
/// API. Like the checks of SQL it holds as long as it does not come to false.
/// </summary>
public sealed record RecordCheck : DefinitionPart
{
    /// <summary>The greatest number of checks of a panel.</summary>
    public const int Most = 50;

    /// <summary>The greatest number of characters of a name.</summary>
    public const int MostOfName = 100;

    /// <summary>What it is called where somebody saves in spite of it: unique in its panel.</summary>
    public required string Name { get; init; }

    /// <summary>The expression that is true of a record as it should be.</summary>
    public required string Condition { get; init; }

    /// <summary>What is said where it does not hold, for whoever fills the form in.</summary>
    public required string Message { get; init; }

    /// <summary>The column that the message stands at; null for the record as a whole.</summary>
    public string? Column { get; init; }

    /// <summary>Whether a person may save all the same; the logbook tells it then.</summary>
    public bool IsWarning { get; init; }
}

/// <summary>Which records an act is allowed for, by what they are before it.</summary>
public sealed record RecordCondition : DefinitionPart
{
    /// <summary>The expression that does not come to false of a record that it is allowed for.</summary>
    public required string Condition { get; init; }

    /// <summary>What is said of the others.</summary>
    public required string Message { get; init; }
}
