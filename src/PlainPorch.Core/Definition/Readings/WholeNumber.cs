using System.Text.RegularExpressions;

namespace PlainPorch.Core.Definition.Readings;

/// <summary>The digits of a whole number, whatever number type holds it: a numeric column may say <c>20111001.00</c>.</summary>
internal static partial class WholeNumber
{
    /// <summary>The digits of a stored number that is not negative and has at most so many, as a formula.</summary>
    public static Formula OfDigits(int most) => new Formula.Found(new Formula.Stored(), $"^([0-9]{{1,{most}}})(?:[.]0*)?$");

    /// <summary>The sign and digits of a stored number, as a formula.</summary>
    public static Formula SignedFormula { get; } = new Formula.Found(new Formula.Stored(), "^(-?[0-9]+)(?:[.]0*)?$");

    /// <summary>The digits of a stored number; null where it is another one.</summary>
    public static string? In(string stored) =>
        Digits().Match(stored) is { Success: true } match && match.Groups[1].Length == 0 ? match.Groups[2].Value : null;

    /// <summary>A number without the zeros behind its point, where there is nothing else.</summary>
    public static string WithoutZeros(string stored) =>
        Digits().Match(stored) is { Success: true } match ? match.Groups[1].Value + match.Groups[2].Value : stored;

    [GeneratedRegex(@"\A(-?)([0-9]+)(?:[.]0*)?\z", RegexOptions.CultureInvariant)]
    private static partial Regex Digits();
}
