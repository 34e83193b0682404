using System.Globalization;
using System.Net.Sockets;
using Microsoft.AspNetCore.Diagnostics;
using Npgsql;
using PlainPorch.Core.Definition;
using PlainPorch.Data.Catalog;
using PlainPorch.Data.Connections;
using PlainPorch.Data.Rows;

namespace PlainPorch.Web.Http;

/// <summary>Answers failures of a source's database in words; anything else is an error of ours and stays one.</summary>
internal sealed class SourceFailureHandler : IExceptionHandler
{
    private const string TookTooLong =
        "The database took too long and the query was stopped. Search for a longer word, narrow the list, or sort by another column. "
        + "An index over the columns searched or sorted by would solve this permanently.";

    public async ValueTask<bool> TryHandleAsync(HttpContext httpContext, Exception exception, CancellationToken cancellationToken)
    {
        if (exception is OperationCanceledException && httpContext.RequestAborted.IsCancellationRequested)
        {
            // Nobody is there to read an answer.
            httpContext.Response.StatusCode = StatusCodes.Status499ClientClosedRequest;
            return true;
        }

        if (exception is SourceBusyException)
            httpContext.Response.Headers.RetryAfter = SourceBusyException.RetrySeconds.ToString(CultureInfo.InvariantCulture);
        var (status, detail) = Explain(exception);
        if (status == 0)
            return false;
        await Problems.Write(httpContext, status, detail);
        return true;
    }

    /// <summary>Status and detail for a failure; a status of 0 for one that is none of the database's.</summary>
    public static (int Status, string Detail) Explain(Exception? failure)
    {
        for (; failure is not null; failure = failure.InnerException)
        {
            switch (failure)
            {
                case SecretLostException lost:
                    return (StatusCodes.Status409Conflict, lost.Message);
                case CodeFailedException code:
                    return (StatusCodes.Status409Conflict, code.Message);
                case DefinitionTooNewException tooNew:
                    return (StatusCodes.Status409Conflict, tooNew.Message);
                case SourceBusyException:
                    return (
                        StatusCodes.Status503ServiceUnavailable,
                        "The database is busy at the moment. Try again in a few seconds."
                    );
                case NpgsqlException own
                    when CatalogFailures.IsOf(own) && own is not PostgresException { InvariantSeverity: "ERROR" }:
                    return (
                        StatusCodes.Status503ServiceUnavailable,
                        "Plain Porch's own database cannot be reached at the moment. Nothing you typed is lost. Try again in a moment; if it persists, tell whoever runs Plain Porch."
                    );
                case PostgresException { SqlState: PostgresErrorCodes.QueryCanceled }
                or NpgsqlException { InnerException: TimeoutException }
                or TimeoutException:
                    return (StatusCodes.Status504GatewayTimeout, TookTooLong);
                case PostgresException { SqlState: PostgresErrorCodes.UndefinedTable or PostgresErrorCodes.UndefinedColumn }:
                    return (
                        StatusCodes.Status409Conflict,
                        "The table has changed since its schema was read. Read the schema again in the back room."
                    );
                case PostgresException { SqlState: PostgresErrorCodes.UndefinedFunction } lacking:
                    return (
                        StatusCodes.Status409Conflict,
                        $"The database is missing something this needs ({lacking.MessageText}). Finding similar spellings needs the extension pg_trgm: have it installed, or choose another way of matching for the columns."
                    );
                case PostgresException { SqlState: PostgresErrorCodes.InsufficientPrivilege } refused:
                    return (
                        StatusCodes.Status409Conflict,
                        $"The database user is not allowed to do this ({refused.MessageText}). Have the privilege granted."
                    );
                case PostgresException
                {
                    SqlState: PostgresErrorCodes.InvalidPassword
                        or PostgresErrorCodes.InvalidAuthorizationSpecification
                        or PostgresErrorCodes.InvalidCatalogName
                } refused:
                    return (
                        StatusCodes.Status503ServiceUnavailable,
                        $"The database does not accept the connection ({refused.MessageText}). Correct the source's settings in the back room."
                    );
                case PostgresException
                {
                    SqlState: PostgresErrorCodes.CannotConnectNow
                        or PostgresErrorCodes.AdminShutdown
                        or PostgresErrorCodes.CrashShutdown
                }:
                    return (
                        StatusCodes.Status503ServiceUnavailable,
                        "The database is starting or stopping. Try again in a moment."
                    );
                case PostgresException { SqlState: ['5', '3', ..] } lacking:
                    return (
                        StatusCodes.Status503ServiceUnavailable,
                        $"The database has no resources left at the moment ({lacking.MessageText}). Try again in a moment."
                    );
                case PostgresException
                {
                    SqlState: PostgresErrorCodes.CharacterNotInRepertoire or PostgresErrorCodes.UntranslatableCharacter
                }:
                    return (
                        StatusCodes.Status400BadRequest,
                        "It contains a character that the database cannot store. Remove it."
                    );
                case PostgresException { SqlState: PostgresErrorCodes.ObjectNotInPrerequisiteState } unready:
                    return (
                        StatusCodes.Status409Conflict,
                        $"The table or view cannot be read at the moment: {unready.MessageText}. Ask the database administrator."
                    );
                case PostgresException { SqlState: ['H', 'V', ..] or ['5', '8', ..] } elsewhere:
                    return (
                        StatusCodes.Status409Conflict,
                        $"The database cannot reach these records, which are stored elsewhere: {elsewhere.MessageText}. Ask the database administrator."
                    );
                case PostgresException refused when RefusalText.IsRefusal(refused):
                    return (
                        StatusCodes.Status409Conflict,
                        $"The database cannot carry this out: {refused.MessageText}. Try something else, or ask the database administrator."
                    );
                case NpgsqlException { InnerException: SocketException } and not PostgresException:
                    return (
                        StatusCodes.Status503ServiceUnavailable,
                        "The database cannot be reached. Try again in a moment; if it persists, check the source in the back room."
                    );
                case NpgsqlException other and not PostgresException:
                    return (
                        StatusCodes.Status503ServiceUnavailable,
                        $"The connection to the database failed ({other.Message.TrimEnd('.')}). Try again; if it persists, check the source in the back room."
                    );
            }
        }

        return (0, "");
    }
}
