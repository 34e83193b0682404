using System.Globalization;

namespace PlainPorch.Core.Rules;

/// <summary>Carries out the operations that are null where a part is.</summary>
public static class RuleOperations
{
    /// <summary>The detail of a number that becomes a whole one.</summary>
    public const string WholeNumbers = "integer";

    /// <summary>What an operation comes to.</summary>
    /// <param name="operation">The operation.</param>
    /// <param name="of">What it works on; nothing of it null.</param>
    /// <param name="detail">What else it is told.</param>
    /// <exception cref="RuleFailedException">It comes to nothing.</exception>
    public static object? Apply(RuleOperation operation, object[] of, string? detail)
    {
        return operation switch
        {
            RuleOperation.Not => !(bool)of[0],
            RuleOperation.Equal => of[0].Equals(of[1]),
            RuleOperation.NotEqual => !of[0].Equals(of[1]),
            RuleOperation.Less => RuleValue.Compare(of[0], of[1]) < 0,
            RuleOperation.AtMost => RuleValue.Compare(of[0], of[1]) <= 0,
            RuleOperation.More => RuleValue.Compare(of[0], of[1]) > 0,
            RuleOperation.AtLeast => RuleValue.Compare(of[0], of[1]) >= 0,
            RuleOperation.Like => RuleLetters.IsLike(Text(0), Text(1)),
            RuleOperation.Add => RuleNumber.Add(Number(0), Number(1)),
            RuleOperation.Subtract => RuleNumber.Subtract(Number(0), Number(1)),
            RuleOperation.Multiply => RuleNumber.Multiply(Number(0), Number(1)),
            RuleOperation.Divide => RuleNumber.Divide(Number(0), Number(1)),
            RuleOperation.Modulo => RuleNumber.Modulo(Number(0), Number(1)),
            RuleOperation.Negate => -Number(0),
            RuleOperation.AddDays => Later(of[0], Whole(1)),
            RuleOperation.SubtractDays => Later(of[0], -(long)Whole(1)),
            RuleOperation.DaysBetween => RuleCalendar.Between((RuleDay)of[0], (RuleDay)of[1]),
            RuleOperation.AddMonths => RuleCalendar.AddMonths((RuleDay)of[0], Whole(1)),
            RuleOperation.Join => Text(0) + Text(1),
            RuleOperation.Abs => Math.Abs(Number(0)),
            RuleOperation.Sign => (decimal)Math.Sign(Number(0)),
            RuleOperation.Floor => RuleNumber.Bounded(decimal.Floor(Number(0))),
            RuleOperation.Ceiling => RuleNumber.Bounded(decimal.Ceiling(Number(0))),
            RuleOperation.Round => RuleNumber.Round(Number(0), of.Length > 1 ? Whole(1) : 0),
            RuleOperation.Trunc => RuleNumber.Trunc(Number(0), of.Length > 1 ? Whole(1) : 0),
            RuleOperation.Length => (decimal)RuleLetters.Length(Text(0)),
            RuleOperation.Upper => RuleLetters.Upper(Text(0)),
            RuleOperation.Lower => RuleLetters.Lower(Text(0)),
            RuleOperation.Trim => Text(0).Trim(' '),
            RuleOperation.Substring => RuleLetters.Substring(Text(0), Whole(1), of.Length > 2 ? Whole(2) : null),
            RuleOperation.Left => RuleLetters.Left(Text(0), Whole(1)),
            RuleOperation.Right => RuleLetters.Right(Text(0), Whole(1)),
            RuleOperation.Position => (decimal)RuleLetters.Position(Text(1), Text(0)),
            RuleOperation.Replace => RuleLetters.Replace(Text(0), Text(1), Text(2)),
            RuleOperation.StartsWith => Text(0).StartsWith(Text(1), StringComparison.Ordinal),
            RuleOperation.Extract => Extract(of[0], detail!),
            RuleOperation.ToText => RuleValue.ToText(of[0]),
            RuleOperation.ToNumber => Fitting(Number(0), detail!),
            RuleOperation.ToDate => RuleCalendar.DayOf((RuleMoment)of[0]),
            RuleOperation.ToMoment => RuleCalendar.BeginningOf((RuleDay)of[0]),
            _ => throw new ArgumentOutOfRangeException(nameof(operation), operation, "An operation that is not known here."),
        };

        decimal Number(int place) => (decimal)of[place];
        string Text(int place) => (string)of[place];
        int Whole(int place) => (int)Number(place);
    }

    private static object Later(object of, long days) =>
        of is RuleDay day ? RuleCalendar.Add(day, days) : RuleCalendar.Add((RuleMoment)of, days);

    private static decimal? Extract(object of, string part) =>
        of switch
        {
            RuleDay day => RuleCalendar.Extract(part, day),
            RuleMoment moment => RuleCalendar.Extract(part, moment),
            _ => RuleCalendar.Extract(part, (RuleTime)of),
        };

    private static decimal Fitting(decimal number, string detail)
    {
        if (detail == WholeNumbers)
            return RuleNumber.ToInteger(number);
        var parts = detail.Split(',').Select(part => int.Parse(part, CultureInfo.InvariantCulture)).ToList();
        var rounded = RuleNumber.Round(number, parts[1]);
        var limit = (decimal)Math.Pow(10, parts[0] - parts[1]);
        return Math.Abs(rounded) >= limit ? throw new RuleFailedException(RuleFailure.OutOfRange) : rounded;
    }
}
