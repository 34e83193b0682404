using PlainPorch.Core.Sources;

namespace PlainPorch.Data.Connections;

/// <summary>A connected database, as the catalog keeps it.</summary>
public sealed class SourceRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>What the developer calls it; unique.</summary>
    public required string Name { get; set; }

    /// <summary>Host name or address.</summary>
    public required string Host { get; set; }

    /// <summary>TCP port.</summary>
    public int Port { get; set; }

    /// <summary>The database's name.</summary>
    public required string Database { get; set; }

    /// <summary>The database user.</summary>
    public required string User { get; set; }

    /// <summary>The password, encrypted; null where there is none.</summary>
    public string? ProtectedPassword { get; set; }

    /// <summary>Whether and how strictly the connection is encrypted.</summary>
    public TlsMode Tls { get; set; }

    /// <summary>The schemas to read; empty for all but the system's.</summary>
    public required List<string> Schemas { get; set; }

    /// <summary>Whether nothing may be written to it.</summary>
    public bool IsReadOnly { get; set; }

    /// <summary>
    /// Which database it is, whatever it is called and wherever it is reached: the server's system identifier and the database's
    /// number; null until it was asked.
    /// </summary>
    public string? Identity { get; set; }

    /// <summary>When it was added.</summary>
    public DateTimeOffset CreatedAt { get; set; }

    /// <summary>PostgreSQL's row version, for the optimistic lock.</summary>
    public uint Version { get; set; }
}
