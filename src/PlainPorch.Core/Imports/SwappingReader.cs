namespace PlainPorch.Core.Imports;

/// <summary>
/// Reads text with two characters in each other's place, so that a parser which takes only some delimiters reads values that are parted by
/// another one. Swapped once more, every value is as it was.
/// </summary>
/// <param name="text">The text.</param>
/// <param name="one">One of the two characters.</param>
/// <param name="other">The other one.</param>
internal sealed class SwappingReader(TextReader text, char one, char other) : TextReader
{
    /// <inheritdoc/>
    public override int Peek() => Swapped(text.Peek());

    /// <inheritdoc/>
    public override int Read() => Swapped(text.Read());

    /// <inheritdoc/>
    public override int Read(char[] buffer, int index, int count) => Read(buffer.AsSpan(index, count));

    /// <inheritdoc/>
    public override int Read(Span<char> buffer)
    {
        var read = text.Read(buffer);
        foreach (ref var letter in buffer[..read])
            letter = (char)Swapped(letter);
        return read;
    }

    /// <summary>A value with the two characters in each other's place.</summary>
    public static string Swap(string value, char one, char other) =>
        value.AsSpan().ContainsAny(one, other) ? string.Create(value.Length, (value, one, other), (swapped, from) =>
            {
                for (var place = 0; place < swapped.Length; place++)
                    swapped[place] =
                        from.value[place] == from.one ? from.other
                        : from.value[place] == from.other ? from.one
                        : from.value[place];
            }) : value;

    /// <inheritdoc/>
    protected override void Dispose(bool disposing)
    {
        if (disposing)
            text.Dispose();
        base.Dispose(disposing);
    }

    private int Swapped(int letter) =>
        letter == one ? other
        : letter == other ? one
        : letter;
}
