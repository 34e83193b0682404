namespace PlainPorch.Contract;

/// <summary>
/// Code of one's own about the records of one table. Plain Porch makes one instance for each act, with whatever services its
/// constructor asks for, and calls it by every way in: a form, a cell, a change of many, rows pasted, bringing back, the API.
/// </summary>
public interface IRecordCode
{
    /// <summary>The table whose records it is about, as <c>schema.table</c>, exactly as the database writes it.</summary>
    string Table { get; }

    /// <summary>
    /// Called within the transaction of an act, once it was written and before it comes to pass. It can refuse the act, change values,
    /// and say what is to be done afterwards. Where it throws, or takes longer than the time that is set, nothing of the act stays,
    /// and whoever asked for it is told the name of this code.
    /// </summary>
    /// <param name="act">What is about to happen; of a change of many, some hundred records at a time.</param>
    /// <param name="cancellationToken">Cancelled where the time is over, or nobody waits any more.</param>
    Task BeforeAsync(ActInProgress act, CancellationToken cancellationToken) => Task.CompletedTask;

    /// <summary>
    /// Does what <see cref="ActInProgress.Afterwards"/> asked for, once the act has come to pass: at least once. Where it throws, or takes
    /// too long, it is tried again later, at greater and greater intervals; a program that breaks off in between calls it again. What it
    /// does outside must bear that: <see cref="Afterwards.Id"/> stays the same.
    /// </summary>
    /// <param name="afterwards">What was asked for.</param>
    /// <param name="cancellationToken">Cancelled where the time is over.</param>
    Task AfterAsync(Afterwards afterwards, CancellationToken cancellationToken) => Task.CompletedTask;
}

/// <summary>What becomes of a record.</summary>
public enum RecordAct
{
    /// <summary>It is new.</summary>
    Added,

    /// <summary>Values of it change.</summary>
    Changed,

    /// <summary>It is set aside, and can be brought back.</summary>
    SetAside,

    /// <summary>It was set aside and comes back.</summary>
    BroughtBack,

    /// <summary>It is deleted for good.</summary>
    Erased,

    /// <summary>It gets another place in its running order.</summary>
    Moved,
}

/// <summary>An act that is about to come to pass.</summary>
/// <param name="who">What the person is called who does it.</param>
/// <param name="at">When.</param>
/// <param name="records">The records of the table that it is about.</param>
public sealed class ActInProgress(string who, DateTimeOffset at, IReadOnlyList<RecordInAct> records)
{
    private readonly List<string> _afterwards = [];

    /// <summary>What the person is called who does it.</summary>
    public string Who => who;

    /// <summary>When.</summary>
    public DateTimeOffset At => at;

    /// <summary>The records of the table that it is about.</summary>
    public IReadOnlyList<RecordInAct> Records => records;

    /// <summary>What is to be done afterwards, in the order in which it was asked for.</summary>
    public IReadOnlyList<string> AskedAfterwards => _afterwards;

    /// <summary>
    /// Has <see cref="IRecordCode.AfterAsync"/> called once the act has come to pass, and not at all where it does not.
    /// </summary>
    /// <param name="content">What it needs to know, such as JSON: it is kept as long as it is outstanding.</param>
    public void Afterwards(string content)
    {
        ArgumentNullException.ThrowIfNull(content);
        _afterwards.Add(content);
    }
}

/// <summary>A record that an act is about.</summary>
/// <param name="act">What becomes of it.</param>
/// <param name="key">Its key; null where nothing tells the table's records apart.</param>
/// <param name="title">What it is called.</param>
/// <param name="values">The values of its columns, by their names, as texts: as they will be, or of a record that goes, as they were; null
/// for none. Empty where the record has no key, no panel is over its table, or it was set aside before.</param>
/// <param name="changes">The values that change; empty where no single values are told.</param>
public sealed class RecordInAct(
    RecordAct act,
    string? key,
    string title,
    IReadOnlyDictionary<string, string?> values,
    IReadOnlyList<ChangedValue> changes
)
{
    private readonly List<Refusal> _refusals = [];
    private readonly Dictionary<string, string?> _set = [];

    /// <summary>What becomes of it.</summary>
    public RecordAct Act => act;

    /// <summary>Its key; null where nothing tells the table's records apart.</summary>
    public string? Key => key;

    /// <summary>What it is called.</summary>
    public string Title => title;

    /// <summary>
    /// The values of its columns, by their names, as they are stored: numbers with a point, dates and times as ISO 8601 writes them,
    /// <c>true</c> and <c>false</c>; null for none.
    /// </summary>
    public IReadOnlyDictionary<string, string?> Values => values;

    /// <summary>The values that change.</summary>
    public IReadOnlyList<ChangedValue> Changes => changes;

    /// <summary>Why it is refused; empty where it is not.</summary>
    public IReadOnlyList<Refusal> Refusals => _refusals;

    /// <summary>The values that were set, by their columns.</summary>
    public IReadOnlyDictionary<string, string?> WhatWasSet => _set;

    /// <summary>Refuses the act: nothing of it stays.</summary>
    /// <param name="message">What is said to whoever asked for it, with the remedy.</param>
    /// <param name="column">The column that it is said at; null for the record as a whole.</param>
    public void Refuse(string message, string? column = null)
    {
        ArgumentException.ThrowIfNullOrWhiteSpace(message);
        _refusals.Add(new Refusal(message, column));
    }

    /// <summary>
    /// Changes a value, within the same act; the logbook tells it. Not of a column that tells records apart: that refuses the act.
    /// </summary>
    /// <param name="column">The column.</param>
    /// <param name="value">The value, in the form that <see cref="Values"/> has; null for none.</param>
    /// <exception cref="InvalidOperationException">The record goes, has no key, or has no such column.</exception>
    public void Set(string column, string? value)
    {
        ArgumentNullException.ThrowIfNull(column);
        if (act is RecordAct.SetAside or RecordAct.Erased || key is null)
            throw new InvalidOperationException("Values can be set of records that stay and have a key.");
        if (!values.ContainsKey(column))
            throw new InvalidOperationException($"The record has no column {column}.");
        _set[column] = value;
    }
}

/// <summary>A value that changes.</summary>
/// <param name="Column">The column.</param>
/// <param name="From">What it was; null for none.</param>
/// <param name="To">What it will be; null for none.</param>
public sealed record ChangedValue(string Column, string? From, string? To);

/// <summary>Why an act is refused.</summary>
/// <param name="Message">What is said.</param>
/// <param name="Column">The column that it is said at; null for the record as a whole.</param>
public sealed record Refusal(string Message, string? Column);

/// <summary>Something to be done after an act.</summary>
/// <param name="Id">Its number, the same at each attempt: an outside service can tell by it that it has done it already.</param>
/// <param name="Content">What was given to <see cref="ActInProgress.Afterwards"/>.</param>
/// <param name="Attempt">The how manieth attempt it is, from 1.</param>
/// <param name="At">When the act was done.</param>
public sealed record Afterwards(long Id, string Content, int Attempt, DateTimeOffset At);
