using System.Security.Cryptography;
using PlainPorch.Data.Rows;

namespace PlainPorch.Data.Records;

/// <summary>
/// Tries again what the database gave up because somebody else was writing at the same moment: nothing of it was done, and most of
/// the time it goes through then.
/// </summary>
internal static class Collisions
{
    private const int Tries = 4;
    private const int ShortestPause = 10;
    private const int LongestPause = 120;

    /// <summary>Writes, and tries again where it collided.</summary>
    /// <param name="write">Writes in a transaction of its own.</param>
    /// <param name="cancellationToken">Gives it up.</param>
    public static async Task<WriteOutcome> TryAgainAsync(Func<Task<WriteOutcome>> write, CancellationToken cancellationToken)
    {
        for (var attempt = 1; ; attempt++)
        {
            var outcome = await write();
            if (
                attempt == Tries
                || outcome is not WriteOutcome.Refused(var problems)
                || problems.All(problem => problem.Message != RefusalText.Collided)
            )
                return outcome;
            // Not in step with the other one, or both would meet again.
            await Task.Delay(attempt * RandomNumberGenerator.GetInt32(ShortestPause, LongestPause), cancellationToken);
        }
    }
}
