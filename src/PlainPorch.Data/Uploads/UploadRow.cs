namespace PlainPorch.Data.Uploads;

/// <summary>A file that was sent for a field of a form, and waits there until the record is saved.</summary>
public sealed class UploadRow
{
    /// <summary>Its number, which nobody can guess.</summary>
    public Guid Id { get; set; }

    /// <summary>The panel for whose records it is.</summary>
    public int PanelId { get; set; }

    /// <summary>The column that it is for.</summary>
    public required string Column { get; set; }

    /// <summary>What it was called where it came from; null where nobody asks.</summary>
    public string? Name { get; set; }

    /// <summary>When it was sent.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>The file.</summary>
    public required byte[] Content { get; set; }
}
