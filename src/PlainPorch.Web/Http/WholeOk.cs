using System.Buffers;
using System.Net.Mime;
using System.Reflection;
using System.Text.Json;
using Microsoft.AspNetCore.Http.Json;
using Microsoft.AspNetCore.Http.Metadata;
using Microsoft.Extensions.ObjectPool;
using Microsoft.Extensions.Options;

namespace PlainPorch.Web.Http;

/// <summary>
/// 200 with a value as JSON, written in one go with its length. For answers of some kilobytes that are asked for all day this
/// takes half the time of writing them piece by piece.
/// </summary>
/// <typeparam name="T">The value's type.</typeparam>
/// <param name="value">The value.</param>
/// <param name="write">Writes it.</param>
public sealed class WholeOk<T>(T value, Action<Utf8JsonWriter, T, JsonSerializerOptions> write)
    : IResult,
        IEndpointMetadataProvider,
        IStatusCodeHttpResult,
        IValueHttpResult<T>
{
    private const int UsualSize = 16_384;

    // One that a large answer has made large is not kept.
    private const int GreatestKept = 262_144;

    private static readonly DefaultObjectPool<ArrayBufferWriter<byte>> _buffers = new(new BufferPolicy());

    /// <inheritdoc/>
    public int? StatusCode => StatusCodes.Status200OK;

    /// <inheritdoc/>
    public T? Value => value;

    /// <inheritdoc/>
    static void IEndpointMetadataProvider.PopulateMetadata(MethodInfo method, EndpointBuilder builder)
    {
        ArgumentNullException.ThrowIfNull(builder);
        builder.Metadata.Add(
            new ProducesResponseTypeMetadata(StatusCodes.Status200OK, typeof(T), [MediaTypeNames.Application.Json])
        );
    }

    /// <inheritdoc/>
    public async Task ExecuteAsync(HttpContext httpContext)
    {
        ArgumentNullException.ThrowIfNull(httpContext);
        var options = httpContext.RequestServices.GetRequiredService<IOptions<JsonOptions>>().Value.SerializerOptions;
        var body = _buffers.Get();
        try
        {
            await using (
                var json = new Utf8JsonWriter(body, new JsonWriterOptions { Encoder = options.Encoder, SkipValidation = true })
            )
                write(json, value, options);
            httpContext.Response.ContentType = "application/json; charset=utf-8";
            httpContext.Response.ContentLength = body.WrittenCount;
            // What is written was taken over when this returns, so that the buffer is free again.
            await httpContext.Response.BodyWriter.WriteAsync(body.WrittenMemory, httpContext.RequestAborted);
        }
        finally
        {
            _buffers.Return(body);
        }
    }

    private sealed class BufferPolicy : PooledObjectPolicy<ArrayBufferWriter<byte>>
    {
        public override ArrayBufferWriter<byte> Create() => new(UsualSize);

        public override bool Return(ArrayBufferWriter<byte> obj)
        {
            obj.ResetWrittenCount();
            return obj.Capacity <= GreatestKept;
        }
    }
}
