using PlainPorch.Core.History;

namespace PlainPorch.Data.History;

/// <summary>An entry of the logbook (audit log). The database lets nobody change or delete it.</summary>
public sealed class LogEntryRow
{
    /// <summary>The catalog's number of it; later ones are greater.</summary>
    public long Id { get; set; }

    /// <summary>When it was written.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Who did it.</summary>
    public required string Who { get; set; }

    /// <summary>From where.</summary>
    public required string From { get; set; }

    /// <summary>The source whose records it is about.</summary>
    public int SourceId { get; set; }

    /// <summary>The porch where it was done.</summary>
    public int PorchId { get; set; }

    /// <summary>The slug of the panel where it was done.</summary>
    public required string Panel { get; set; }

    /// <summary>What was done.</summary>
    public LogAct Act { get; set; }

    /// <summary>How the first of the records is called.</summary>
    public required string Title { get; set; }

    /// <summary>How many records it is about.</summary>
    public int Count { get; set; }

    /// <summary>The parcel that it made, brought back or erased; null for none.</summary>
    public long? ParcelId { get; set; }

    /// <summary>The source's number of the transaction that did it.</summary>
    public required string Transaction { get; set; }

    /// <summary>The checks that warned, by their names, and in spite of which it was done.</summary>
    public string[] Despite { get; set; } = [];
}

/// <summary>What an entry says about one record.</summary>
public sealed class LogRecordRow
{
    /// <summary>The entry.</summary>
    public long EntryId { get; set; }

    /// <summary>Its number in the entry, from 0.</summary>
    public int Number { get; set; }

    /// <summary>The source.</summary>
    public int SourceId { get; set; }

    /// <summary>The table's schema.</summary>
    public required string Schema { get; set; }

    /// <summary>The table's name.</summary>
    public required string Table { get; set; }

    /// <summary>The record's key as <see cref="Core.Records.RecordKey"/> writes it; null where its table has none.</summary>
    public string? Key { get; set; }

    /// <summary>How it was called.</summary>
    public required string Title { get; set; }

    /// <summary>What was done with it.</summary>
    public LogAct Act { get; set; }

    /// <summary>The <see cref="ValueChange"/>s as JSON.</summary>
    public required string Changes { get; set; }
}

/// <summary>Whether what an entry tells came to pass: written after the source's transaction ended.</summary>
public sealed class LogOutcomeRow
{
    /// <summary>The entry.</summary>
    public long EntryId { get; set; }

    /// <summary>Whether it did.</summary>
    public bool Happened { get; set; }

    /// <summary>When that was known.</summary>
    public DateTimeOffset At { get; set; }
}
