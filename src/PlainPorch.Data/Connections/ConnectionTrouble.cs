using System.ComponentModel;
using System.Net.Sockets;
using System.Security.Authentication;
using Npgsql;
using PlainPorch.Core.Sources;
using PlainPorch.Core.Values;

namespace PlainPorch.Data.Connections;

/// <summary>Says in plain words why a connection could not be made, and which field to look at.</summary>
public static class ConnectionTrouble
{
    /// <summary>Explains a failure.</summary>
    /// <param name="failure">What was thrown while connecting.</param>
    /// <param name="settings">What was connected to.</param>
    /// <returns>The field to look at, with cause and remedy; null where the failure is of another sort.</returns>
    public static FieldProblem? Explain(Exception failure, SourceSettings settings)
    {
        ArgumentNullException.ThrowIfNull(settings);
        return failure switch
        {
            PostgresException answer => FromServer(answer, settings),
            _ when Find<SocketException>(failure) is { } socket => FromNetwork(socket, settings),
            _ when Find<AuthenticationException>(failure) is { } tls => new(
                "tls",
                $"The server's certificate was not accepted ({tls.Message.TrimEnd('.')}). Check it, or choose a less strict TLS mode."
            ),
            NpgsqlException { Message: var message } when message.Contains("SSL", StringComparison.OrdinalIgnoreCase) => new(
                "tls",
                "The server does not speak TLS. Choose the TLS mode “if offered” or “never”, or switch it on at the server."
            ),
            NpgsqlException { Message: var message } when message.Contains("password", StringComparison.OrdinalIgnoreCase) => new(
                "password",
                $"The server asks for the password of {settings.User}, and none was given. Enter it."
            ),
            _ when failure is TimeoutException or OperationCanceledException || Find<TimeoutException>(failure) is not null =>
                TimedOut(settings),
            NpgsqlException other => new(
                "host",
                $"{settings.Host}:{settings.Port} answers, but not as a PostgreSQL server ({other.Message.TrimEnd('.')}). Check host and port."
            ),
            _ => null,
        };
    }

    private static FieldProblem FromServer(PostgresException answer, SourceSettings settings) =>
        answer.SqlState switch
        {
            PostgresErrorCodes.InvalidPassword => new(
                "password",
                $"The server does not accept {settings.User} with this password. Check both."
            ),
            PostgresErrorCodes.InvalidAuthorizationSpecification
                when answer.MessageText.Contains("role", StringComparison.Ordinal) => new(
                "user",
                $"The server has no user {settings.User}. Check the spelling."
            ),
            PostgresErrorCodes.InvalidAuthorizationSpecification
                when answer.MessageText.Contains("pg_hba.conf", StringComparison.Ordinal) => new(
                "host",
                "The server's access list (pg_hba.conf) does not allow this machine, user and database. Have a line added there, or try another TLS mode."
            ),
            PostgresErrorCodes.InvalidAuthorizationSpecification => new(
                "user",
                $"The server refuses {settings.User}: {answer.MessageText}. Check user and password."
            ),
            PostgresErrorCodes.InvalidCatalogName => new(
                "database",
                $"The server has no database {settings.Database}. Check the spelling; names are case-sensitive."
            ),
            PostgresErrorCodes.InsufficientPrivilege => new(
                "user",
                $"{settings.User} is not allowed to connect to {settings.Database}. Grant it CONNECT, or use another user."
            ),
            PostgresErrorCodes.TooManyConnections => new(
                "host",
                "The server has no free connection. Try again later, or raise its limit."
            ),
            PostgresErrorCodes.CannotConnectNow => new("host", "The server is starting or stopping. Try again in a moment."),
            PostgresErrorCodes.QueryCanceled => TimedOut(settings),
            _ => new("host", $"The server answers: {answer.MessageText}."),
        };

    private static FieldProblem FromNetwork(SocketException socket, SourceSettings settings) =>
        socket.SocketErrorCode switch
        {
            SocketError.HostNotFound or SocketError.NoData or SocketError.TryAgain => new(
                "host",
                $"No machine called {settings.Host} was found. Check the spelling, or use its address."
            ),
            SocketError.ConnectionRefused => new(
                "port",
                $"{settings.Host} refuses connections on port {settings.Port}. Check the port, and that the server runs and listens on that address."
            ),
            SocketError.TimedOut => TimedOut(settings),
            SocketError.HostUnreachable or SocketError.NetworkUnreachable => new(
                "host",
                $"There is no route to {settings.Host} from here. Check the address and the network."
            ),
            _ => new(
                "host",
                $"{settings.Host}:{settings.Port} could not be reached ({new Win32Exception(socket.ErrorCode).Message}). Check host and port."
            ),
        };

    private static FieldProblem TimedOut(SourceSettings settings) =>
        new(
            "host",
            $"{settings.Host}:{settings.Port} did not answer within {SourceConnection.ConnectSeconds} seconds. Check the address, and that no firewall is in between."
        );

    private static T? Find<T>(Exception? failure)
        where T : Exception
    {
        for (; failure is not null; failure = failure.InnerException)
        {
            if (failure is T found)
                return found;
        }

        return null;
    }
}
