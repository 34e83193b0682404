namespace PlainPorch.Core.Sources;

/// <summary>How to reach a source: everything that a connection needs.</summary>
public sealed record SourceSettings
{
    /// <summary>The port that PostgreSQL servers listen on unless told otherwise.</summary>
    public const int DefaultPort = 5432;

    /// <summary>Host name, address, or the folder of a Unix socket.</summary>
    public string Host { get; init; } = "";

    /// <summary>The TCP port.</summary>
    public int Port { get; init; } = DefaultPort;

    /// <summary>The database's name.</summary>
    public string Database { get; init; } = "";

    /// <summary>The database user.</summary>
    public string User { get; init; } = "";

    /// <summary>The password; null where none is known or needed. Never logged, never sent to a browser.</summary>
    public string? Password { get; init; }

    /// <summary>Whether and how strictly the connection is encrypted.</summary>
    public TlsMode Tls { get; init; } = TlsMode.Prefer;

    /// <summary>Leaves the password out, so that no message or log can show it.</summary>
    public override string ToString() => $"{User}@{Host}:{Port}/{Database}";
}

/// <summary>Whether and how strictly a connection is encrypted; the meanings of PostgreSQL's <c>sslmode</c>.</summary>
public enum TlsMode
{
    /// <summary>Never.</summary>
    Disable,

    /// <summary>If the server offers it.</summary>
    Prefer,

    /// <summary>Always, without checking the certificate.</summary>
    Require,

    /// <summary>Always; the certificate must come from a known authority.</summary>
    VerifyCa,

    /// <summary>Always; the certificate must come from a known authority and bear the host's name.</summary>
    VerifyFull,
}
