using System.Globalization;
using System.Text.Json.Serialization;
using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>
/// Several yes or no in a text, each at a place of its own: <c>YNNYN</c>. The values of <see cref="SeveralReading.Words"/> are the
/// places, from 1.
/// </summary>
public sealed record PlacesReading : SeveralReading
{
    private const int Most = 200;

    /// <summary>The sign that means yes, whatever its capitals.</summary>
    public required string Yes { get; init; }

    /// <summary>The sign that means no, whatever its capitals; a blank as well.</summary>
    public required string No { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "several yes or no in a text";

    /// <inheritdoc/>
    public override bool Suits(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        return stored.Kind is ValueKind.Text;
    }

    /// <inheritdoc/>
    public override string? ProblemWith(ColumnType stored)
    {
        ArgumentNullException.ThrowIfNull(stored);
        if (Needs("texts", stored) is { } type)
            return type;
        if (Yes.Length != 1 || No.Length != 1 || Yes == " " || AnyCase.Same(Yes, No))
            return "Yes and no are one sign each, and different ones. Correct them.";
        if (Words.Count == 0)
            return "Say what the places mean: 1 and a word, 2 and a word, and so on.";
        return ProblemWithWords()
            ?? (
                Words.FirstOrDefault(word => PlaceOf(word) is null) is { } wrong
                    ? $"“{wrong.Stored}” is not a place. Type a number from 1 to {Most}."
                    : null
            );
    }

    /// <inheritdoc/>
    public override FormulaTest Holding(ColumnType stored, string value) =>
        // What no place means is nowhere.
        new FormulaTest.Matches(
            Text(stored),
            Words.FirstOrDefault(word => word.Word == value) is { } word
                ? $"^.{{{PlaceOf(word) - 1}}}{AnyCase.Pattern(Yes)}"
                : "x^"
        );

    /// <inheritdoc/>
    private protected override FormulaTest Fits(ColumnType stored)
    {
        var off = $"(?:{AnyCase.Pattern(No)}| )";
        var known = Enumerable
            .Range(1, Places)
            .Select(place => IsKnown(place) ? $"(?:{AnyCase.Pattern(Yes)}|{off}|$)" : $"(?:{off}|$)");
        return new FormulaTest.Matches(Text(stored), $"^{string.Concat(known)}{off}*$");
    }

    /// <inheritdoc/>
    private protected override IEnumerable<string>? Split(string stored)
    {
        for (var i = 0; i < stored.Length; i++)
        {
            var isYes = AnyCase.Same(stored[i].ToString(), Yes);
            if (isYes ? !IsKnown(i + 1) : stored[i] != ' ' && !AnyCase.Same(stored[i].ToString(), No))
                return null;
        }

        return Words
            .Where(word => PlaceOf(word) <= stored.Length && AnyCase.Same(stored[PlaceOf(word)!.Value - 1].ToString(), Yes))
            .Select(word => word.Word);
    }

    /// <inheritdoc/>
    private protected override string Join(IReadOnlyList<string> values, ColumnType stored, out string? problem)
    {
        problem = null;
        return string.Concat(
            Enumerable.Range(1, Places).Select(place => values.Any(value => CodeOf(value) == Place(place)) ? Yes : No)
        );
    }

    private int Places => Words.Max(word => PlaceOf(word) ?? 0);

    private bool IsKnown(int place) => Words.Any(word => PlaceOf(word) == place);

    private static string Place(int place) => place.ToString(CultureInfo.InvariantCulture);

    private static int? PlaceOf(WordFor word) =>
        int.TryParse(word.Stored, NumberStyles.None, CultureInfo.InvariantCulture, out var place)
        && place is >= 1 and <= Most
        && word.Stored == Place(place)
            ? place
            : null;
}
