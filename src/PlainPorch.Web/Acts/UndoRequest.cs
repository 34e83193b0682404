namespace PlainPorch.Web.Acts;

/// <summary>Something done that is to be taken back.</summary>
/// <param name="Entry">The entry of the logbook that tells of it.</param>
public sealed record UndoRequest(long Entry);
