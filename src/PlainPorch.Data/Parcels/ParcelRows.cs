namespace PlainPorch.Data.Parcels;

/// <summary>What one removal set aside: in our keep, or marked in its table. It is brought back from here.</summary>
public sealed class ParcelRow
{
    /// <summary>The catalog's number of it.</summary>
    public long Id { get; set; }

    /// <summary>The source that it is from.</summary>
    public int SourceId { get; set; }

    /// <summary>The porch where it was removed.</summary>
    public int PorchId { get; set; }

    /// <summary>The slug of the panel whose records were removed.</summary>
    public required string Panel { get; set; }

    /// <summary>How the first of the removed records is called.</summary>
    public required string Title { get; set; }

    /// <summary>How many records were chosen.</summary>
    public int Chosen { get; set; }

    /// <summary>When it was removed.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Who removed it.</summary>
    public required string Who { get; set; }

    /// <summary>When it is erased for good; null for never.</summary>
    public DateTimeOffset? EraseAt { get; set; }

    /// <summary>How far it is.</summary>
    public ParcelState State { get; set; }

    /// <summary>The source's number of the transaction under way, by which a crash is settled.</summary>
    public required string Transaction { get; set; }

    /// <summary>
    /// The source's number of the transaction that made the parcel, by which rows are known that nobody has written to since.
    /// </summary>
    public required string MadeBy { get; set; }

    /// <summary>
    /// The database that it is from, as <see cref="Connections.SourceRow.Identity"/> knew it then; null where it was not known.
    /// </summary>
    public string? Database { get; set; }
}

/// <summary>How far a parcel is.</summary>
public enum ParcelState
{
    /// <summary>It is being set aside.</summary>
    Leaving,

    /// <summary>It is set aside.</summary>
    Kept,

    /// <summary>Some or all of it is being brought back, or erased.</summary>
    Returning,

    /// <summary>All of it came back; it stays for a while, in case that was a mistake.</summary>
    Returned,
}

/// <summary>The rows of one table in a parcel.</summary>
public sealed class ParcelPartRow
{
    /// <summary>The parcel.</summary>
    public long ParcelId { get; set; }

    /// <summary>Its place in the parcel, from 0; rows are brought back from the last part to the first.</summary>
    public int Place { get; set; }

    /// <summary>The table's schema.</summary>
    public required string Schema { get; set; }

    /// <summary>The table's name.</summary>
    public required string Table { get; set; }

    /// <summary>What the rows are called taken together.</summary>
    public required string Label { get; set; }

    /// <summary>What was done with them.</summary>
    public PartAct Act { get; set; }

    /// <summary>Parts of one number go back by one statement, because they refer to each other in a circle.</summary>
    public int Group { get; set; }

    /// <summary>The columns that <see cref="ParcelRecordRow.Values"/> are of.</summary>
    public required IReadOnlyList<string> Columns { get; set; }

    /// <summary>Those of them that tell the rows apart; empty where nothing does.</summary>
    public required IReadOnlyList<string> Identity { get; set; }
}

/// <summary>What was done with the rows of a part.</summary>
public enum PartAct
{
    /// <summary>They stay in their table, marked; their values before are kept.</summary>
    Marked,

    /// <summary>They left their table.</summary>
    Moved,

    /// <summary>They stay, and no longer refer to what was removed; their values before are kept.</summary>
    Detached,

    /// <summary>
    /// They stay, and refer to the record that took the removed ones in, or are that record; their values before are kept.
    /// </summary>
    Merged,
}

/// <summary>Tells parts apart.</summary>
internal static class PartActs
{
    /// <summary>Whether the rows were removed, and are not only changed.</summary>
    public static bool Removes(this PartAct act) => act is PartAct.Marked or PartAct.Moved;
}

/// <summary>A row in a parcel.</summary>
public sealed class ParcelRecordRow
{
    /// <summary>The parcel.</summary>
    public long ParcelId { get; set; }

    /// <summary>The part.</summary>
    public int Place { get; set; }

    /// <summary>Its number in the part, from 0.</summary>
    public int Number { get; set; }

    /// <summary>The source that it is from.</summary>
    public int SourceId { get; set; }

    /// <summary>
    /// Its key as <see cref="Core.Records.RecordKey"/> writes it; null where nothing tells its table's rows apart.
    /// </summary>
    public string? Key { get; set; }

    /// <summary>How it was called.</summary>
    public required string Title { get; set; }

    /// <summary>Whether it was chosen itself, and did not only go along.</summary>
    public bool IsChosen { get; set; }

    /// <summary>Whether it is being brought back.</summary>
    public bool IsReturning { get; set; }

    /// <summary>When it came back; null as long as it is set aside.</summary>
    public DateTimeOffset? ReturnedAt { get; set; }

    /// <summary>Its values in the database's own text form.</summary>
    public required string?[] Values { get; set; }

    /// <summary>
    /// The values of the part's <see cref="ParcelPartRow.Identity"/> that it has since, where these were changed; null where they
    /// are as in <see cref="Values"/>.
    /// </summary>
    public string?[]? FoundAt { get; set; }
}
