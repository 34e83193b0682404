using System.Globalization;
using System.Net.Http.Json;
using Microsoft.Extensions.Configuration;
using PlainPorch.Contract;

namespace PlainPorch.Samples.Notices;

/// <summary>
/// Tells an office outside of every new stay, and of those that are set aside; keeps blanks out of notes; and refuses a stay of more than
/// two years without a note that says why.
/// </summary>
/// <param name="clients">Makes the way to the office.</param>
/// <param name="configuration">Says where the office is: <c>NOTICES_ADDRESS</c>. Without it nobody is told.</param>
public sealed class StayNotices(IHttpClientFactory clients, IConfiguration configuration) : IRecordCode
{
    private const int MostDays = 731;

    /// <inheritdoc/>
    public string Table => "register.STAYS";

    /// <inheritdoc/>
    public Task BeforeAsync(ActInProgress act, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(act);
        foreach (var record in act.Records)
        {
            if (record.Act is RecordAct.Added or RecordAct.Changed)
                Look(record);
            if (record.Act is RecordAct.Added or RecordAct.SetAside && configuration["NOTICES_ADDRESS"] is { Length: > 0 })
            {
                var words = record.Act is RecordAct.Added ? "New stay" : "No longer staying";
                act.Afterwards($"{words}: {record.Title} (by {act.Who})");
            }
        }

        return Task.CompletedTask;
    }

    /// <inheritdoc/>
    public async Task AfterAsync(Afterwards afterwards, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(afterwards);
        using var client = clients.CreateClient();
        // The office knows by the number whether it was told already.
        using var answer = await client.PostAsJsonAsync(
            configuration["NOTICES_ADDRESS"],
            new { id = afterwards.Id.ToString(CultureInfo.InvariantCulture), text = afterwards.Content },
            cancellationToken
        );
        answer.EnsureSuccessStatusCode();
    }

    private static void Look(RecordInAct record)
    {
        var note = record.Values.GetValueOrDefault("NOTE");
        if (note is not null && note != note.Trim())
            record.Set("NOTE", note.Trim());
        if (
            DayOf(record.Values.GetValueOrDefault("ARR_DT")) is { } arrived
            && DayOf(record.Values.GetValueOrDefault("DEP_DT")) is { } departed
            && departed.DayNumber - arrived.DayNumber > MostDays
            && string.IsNullOrWhiteSpace(note)
        )
            record.Refuse("A stay of more than two years needs a note that says why.", "NOTE");
    }

    // The register keeps days as eight digits.
    internal static DateOnly? DayOf(string? text) =>
        DateOnly.TryParseExact(text, "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) ? day : null;
}
