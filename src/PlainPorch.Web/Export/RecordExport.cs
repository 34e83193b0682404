using System.Globalization;
using System.Net.Mime;
using Microsoft.AspNetCore.Http.Features;
using PlainPorch.Core.Export;
using PlainPorch.Core.Query;
using PlainPorch.Data.Query;

namespace PlainPorch.Web.Export;

/// <summary>Sends an export as a file, as it comes from the database.</summary>
internal static class RecordExport
{
    /// <summary>Sends the records of a list, in the columns that it shows or in all.</summary>
    public static async Task SendAsync(
        HttpContext http,
        ListStore lists,
        ListPlan plan,
        bool withAllColumns,
        ExportFormat format,
        CancellationToken cancellationToken
    )
    {
        var today = http.RequestServices.GetRequiredService<TimeProvider>().GetLocalNow();
        var label = lists.Seen.Panel.Definition.Label;
        http.Response.ContentType = ExportWriters.MediaType(format);
        http.Response.Headers.ContentDisposition = new ContentDisposition
        {
            FileName = string.Create(
                CultureInfo.InvariantCulture,
                $"{lists.Seen.Panel.Definition.Slug}-{today:yyyy-MM-dd}.{format.ToString().ToLowerInvariant()}"
            ),
        }.ToString();
        // The library that packs spreadsheets finishes each part synchronously.
        if (format is ExportFormat.Xlsx && http.Features.Get<IHttpBodyControlFeature>() is { } control)
            control.AllowSynchronousIO = true;
        await using var writer = ExportWriters.For(format, http.Response.Body, label);
        try
        {
            await lists.ExportAsync(
                withAllColumns ? plan.WithAllColumns(lists.Seen.Panel) : plan.WithShownColumns(),
                writer,
                cancellationToken
            );
        }
        catch when (http.Response.HasStarted)
        {
            // Cut off, so that nobody takes a part for the whole.
            http.Abort();
            throw;
        }
    }
}
