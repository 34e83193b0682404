using System.Globalization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Definition.Readings;
using PlainPorch.Core.Panels;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Rules;

/// <summary>Finds out what the names in an expression mean and what types its parts have, before anything is carried out.</summary>
internal sealed class RuleBinder
{
    private readonly RuleScope _own;
    private readonly bool _isWithin;

    // Within how many of what is reckoned of related records it stands.
    private readonly int _level;
    private readonly RuleNames _names;

    private RuleBinder(RuleScope own, RuleScope? outer, List<(RulePlace Place, string Name)> renamed, int level = 0)
    {
        _own = own;
        _isWithin = outer is not null;
        _level = level;
        _names = new RuleNames(own, outer) { Renamed = renamed };
    }

    /// <summary>Reads an expression.</summary>
    /// <param name="text">The text.</param>
    /// <param name="scope">What it can name.</param>
    /// <exception cref="RuleProblemException">It cannot be used; the problem tells where and why.</exception>
    public static Rule Read(string text, RuleScope scope) => Read(text, scope, out _);

    /// <inheritdoc cref="Read(string, RuleScope)"/>
    /// <param name="text">The text.</param>
    /// <param name="scope">What it can name.</param>
    /// <param name="renamed">Gets what stands there by a label, with the column's name as it is written.</param>
    public static Rule Read(string text, RuleScope scope, out IReadOnlyList<(RulePlace Place, string Name)> renamed)
    {
        var names = new List<(RulePlace Place, string Name)>();
        renamed = names;
        var syntax = RuleGrammar.Read(text);
        var rule = new RuleBinder(scope, null, names).Bind(syntax);
        return rule.Type is RuleType.Nothing ? throw Wrong(syntax.Place, "It is always null. Write what it is to be.") : rule;
    }

    private Rule Bind(RuleSyntax syntax)
    {
        var rule = syntax switch
        {
            RuleSyntax.Number number => BindNumber(number),
            RuleSyntax.Quoted quoted => BindQuoted(quoted),
            RuleSyntax.Word(_, var value) => new Rule.Literal(value is null ? RuleType.Nothing : RuleType.Truth, value),
            RuleSyntax.Name name => BindName(name),
            RuleSyntax.Operator several => BindOperator(several),
            RuleSyntax.Case cases => BindCase(cases),
            RuleSyntax.Cast cast => BindCast(cast),
            RuleSyntax.Extract extract => BindExtract(extract),
            RuleSyntax.Call call => BindCall(call),
            _ => throw new ArgumentOutOfRangeException(nameof(syntax), syntax, "A syntax that is not known here."),
        };
        return Folded(rule, syntax.Place);
    }

    // What is fixed is reckoned at once, as the database does when it plans.
    private static Rule Folded(Rule rule, RulePlace place)
    {
        try
        {
            return RuleFolding.Fold(rule);
        }
        catch (RuleFailedException failed)
        {
            throw Wrong(place, $"{failed.Message} It would always fail; correct it.");
        }
    }

    private static Rule.Literal BindNumber(RuleSyntax.Number number)
    {
        try
        {
            return new Rule.Literal(RuleType.Number, RuleNumber.Read(number.Text));
        }
        catch (RuleFailedException)
        {
            throw Wrong(number.Place, "Numbers have at most 18 digits before the point. Shorten it.");
        }
    }

    private static Rule.Literal BindQuoted(RuleSyntax.Quoted quoted)
    {
        var text = quoted.Text;
        switch (quoted.Type)
        {
            case "date" when CalendarText.TryReadDay(ref text):
                return new Rule.Literal(RuleType.Date, RuleCalendar.ReadDay(text));
            case "timestamp" when CalendarText.TryReadMoment(ref text):
                return new Rule.Literal(RuleType.Moment, RuleCalendar.ReadMoment(text));
            case "time" when CalendarText.TryReadTime(ref text):
                return new Rule.Literal(RuleType.Time, RuleCalendar.ReadTime(text));
            case null:
                return new Rule.Literal(RuleType.Text, text);
            default:
                throw Wrong(
                    quoted.Place,
                    quoted.Type switch
                    {
                        "date" => "There is no such date. Write it like date '2026-01-31'.",
                        "timestamp" => "There is no such moment. Write it like timestamp '2026-01-31 14:30'.",
                        _ => "There is no such time of day. Write it like time '14:30'.",
                    }
                );
        }
    }

    private Rule BindName(RuleSyntax.Name name)
    {
        if (name.Parts.Count == 0)
            throw Wrong(name.Place, "* stands only in count(…). Name a column.");
        if (name.Parts is [{ IsQuoted: false } only])
        {
            if (_own.Find(only.Text, isQuoted: false).Count == 0 && RuleFunctions.Given.TryGetValue(only.Text, out var given))
                return given.What is not RuleGiven.Person ? new Rule.Given(given.Type, given.What)
                    : _own.Person is { } person ? new Rule.Given(person, given.What)
                    : throw Wrong(
                        name.Place,
                        "current_person is known only in what a role sees whose people are records of a panel. Name that panel in the role."
                    );
        }

        var (scope, record, last) = _names.Walk(name.Parts);
        if (scope.Find(last.Text, last.IsQuoted).Count == 0 && scope.FindComputed(last.Text) is { } computed)
            return BindComputed(scope, record, computed, last);
        var column = _names.ColumnOf(scope, last);
        if (scope.Panel.Secrets.Any(secret => secret.Name == column.Name))
            throw Wrong(last.Place, $"Nobody is to read {column.Label}. Leave it out.");
        var type = column.Decision.Lookup is null ? RuleValue.TypeOf(column.Type) : RuleValue.TypeOf(column.Schema.Type);
        return new Rule.Field(Unreadable(column) ? RuleType.Other : type, record, column);
    }

    // What it is computed of stands in its place, so that nothing needs to be known of it anywhere else.
    private Rule BindComputed(RuleScope scope, RuleRecord record, PanelColumn column, RuleName name)
    {
        if (record.Outer || record.Way.Count > 0)
            throw Wrong(
                name.Place,
                $"{column.Label} is computed, and can only be named of the records that have it. Write here what it is computed of."
            );
        if (scope.Reading.Any(one => one.Panel == scope.Panel.Definition.Slug && one.Column.Name == column.Name))
            throw Wrong(
                name.Place,
                scope.Reading[^1].Column == column
                    ? $"{column.Label} cannot be computed of itself. Name what it is computed of."
                    : $"{column.Label} is computed of {scope.Reading[^1].Column.Label}, and this of it. Name something else."
            );
        if (column.Name != name.Text)
            _names.Renamed.Add((name.Place, RuleNames.Quoted(column.Name)));
        if (!TryRead(column.Expression!, scope.Of(column), _level, out var rule, out var problem))
            throw Wrong(name.Place, $"{column.Label} cannot be computed: {problem}");
        return rule!.All().Skip(MostParts).Any()
            ? throw Wrong(name.Place, "With what it names this is too long. Name fewer computed columns.")
            : rule;
    }

    private static bool TryRead(string text, RuleScope scope, int level, out Rule? rule, out string? problem)
    {
        (rule, problem) = (null, null);
        try
        {
            rule = new RuleBinder(scope, null, [], level).Bind(RuleGrammar.Read(text));
            return true;
        }
        catch (RuleProblemException failed)
        {
            problem = failed.Problem.Message;
            return false;
        }
    }

    private const int MostParts = 1000;

    private const int MostLevels = 2;

    // What the database computes of such a reading is no date or text to reckon with.
    private static bool Unreadable(BoundColumn column) =>
        column.Reading
            is { LeavesValues: false } reading
                and not (
                    DayReading
                    or MonthReading
                    or MomentReading
                    or TimeReading
                    or YesNoReading
                    or NumberReading
                    or TextNumberReading
                )
        && RuleValue.TypeOf(reading.As(column.Schema.Type)) is not RuleType.Other
        && reading is not WordsReading;

    private Rule BindOperator(RuleSyntax.Operator syntax)
    {
        var parts = syntax.Parts.Select(Bind).ToList();
        switch (syntax.Operation)
        {
            case RuleOperation.And or RuleOperation.Or or RuleOperation.Not:
                return new Rule.Apply(RuleType.Truth, syntax.Operation, Each(RuleType.Truth));
            case RuleOperation.IsNull:
                return new Rule.Apply(RuleType.Truth, syntax.Operation, parts);
            case RuleOperation.Like:
                return BindLike(syntax, Each(RuleType.Text));
            case RuleOperation.Join:
                return new Rule.Apply(RuleType.Text, syntax.Operation, Each(RuleType.Text));
            case RuleOperation.Add or RuleOperation.Subtract:
                return BindSum(syntax, parts);
            case RuleOperation.In:
                return OneOf(Alike(parts, syntax.Parts).Same, syntax.Place);
            case RuleOperation.Multiply or RuleOperation.Divide or RuleOperation.Modulo or RuleOperation.Negate:
                return new Rule.Apply(RuleType.Number, syntax.Operation, Each(RuleType.Number));
            default:
                var (type, same) = Alike(parts, syntax.Parts);
                if (
                    type is RuleType.Truth
                    && syntax.Operation
                        is RuleOperation.Less
                            or RuleOperation.AtMost
                            or RuleOperation.More
                            or RuleOperation.AtLeast
                )
                    throw Wrong(syntax.Place, "True and false are not more or less than each other. Compare something else.");
                return new Rule.Apply(RuleType.Truth, syntax.Operation, same);
        }

        List<Rule> Each(RuleType type) => [.. parts.Zip(syntax.Parts, (part, of) => As(type, part, of.Place))];
    }

    private static Rule OneOf(List<Rule> parts, RulePlace place)
    {
        var tests = parts
            .Skip(1)
            .Select(one => Folded(new Rule.Apply(RuleType.Truth, RuleOperation.Equal, [parts[0], one]), place))
            .ToList();
        return tests is [var only] ? only : new Rule.Apply(RuleType.Truth, RuleOperation.Or, tests);
    }

    private static Rule.Apply BindLike(RuleSyntax.Operator syntax, List<Rule> parts)
    {
        if (parts[1] is not Rule.Literal { Value: string pattern })
            throw Wrong(
                syntax.Parts[1].Place,
                "A pattern is a fixed text, such as like 'A%'. For others, use strpos or starts_with."
            );
        if (pattern.Count(c => c == '%') > MostWildcards)
            throw Wrong(syntax.Parts[1].Place, $"A pattern has at most {MostWildcards} of the sign %. Leave some out.");
        if ((pattern.Length - pattern.TrimEnd('\\').Length) % 2 == 1)
            throw Wrong(
                syntax.Parts[1].Place,
                "A pattern cannot end with \\, which stands before a sign that is meant as it is."
            );
        return new Rule.Apply(RuleType.Truth, RuleOperation.Like, parts);
    }

    private const int MostWildcards = 10;

    private static Rule.Apply BindSum(RuleSyntax.Operator syntax, List<Rule> parts)
    {
        var isSum = syntax.Operation is RuleOperation.Add;
        switch (parts[0].Type, parts[1].Type)
        {
            case (RuleType.Date or RuleType.Moment, RuleType.Number):
                return new Rule.Apply(
                    parts[0].Type,
                    isSum ? RuleOperation.AddDays : RuleOperation.SubtractDays,
                    [parts[0], Whole(parts[1], syntax.Parts[1].Place)]
                );
            case (RuleType.Number, RuleType.Date or RuleType.Moment) when isSum:
                return new Rule.Apply(parts[1].Type, RuleOperation.AddDays, [parts[1], Whole(parts[0], syntax.Parts[0].Place)]);
            case (RuleType.Date, RuleType.Date) when !isSum:
                return new Rule.Apply(RuleType.Number, RuleOperation.DaysBetween, parts);
            case (RuleType.Moment, RuleType.Moment or RuleType.Date) or (RuleType.Date, RuleType.Moment):
                throw Wrong(syntax.Place, "Between moments, subtract days (cast(… as date)) or seconds (extract(epoch from …)).");
            default:
                return new Rule.Apply(
                    RuleType.Number,
                    syntax.Operation,
                    [.. parts.Zip(syntax.Parts, (part, of) => As(RuleType.Number, part, of.Place))]
                );
        }
    }

    private Rule.Case BindCase(RuleSyntax.Case syntax)
    {
        var of = syntax.Of is { } compared ? Bind(compared) : null;
        var whens = new List<Rule>();
        foreach (var (when, _) in syntax.Cases)
        {
            var bound = Bind(when);
            if (of is null)
                whens.Add(As(RuleType.Truth, bound, when.Place));
            else
                whens.Add(
                    Folded(
                        new Rule.Apply(RuleType.Truth, RuleOperation.Equal, Alike([of, bound], [syntax.Of!, when]).Same),
                        when.Place
                    )
                );
        }

        var thens = syntax.Cases.Select(one => one.Then).Concat(new[] { syntax.Else }.OfType<RuleSyntax>()).ToList();
        var (type, same) = Alike([.. thens.Select(Bind)], thens);
        var otherwise = syntax.Else is null ? new Rule.Literal(type, null) : same[^1];
        return new Rule.Case(type, [.. whens.Zip(same, (when, then) => new RuleCase(when, then))], otherwise);
    }

    private Rule BindCast(RuleSyntax.Cast syntax)
    {
        var of = Bind(syntax.Of);
        var name = syntax.Type.Text.ToLowerInvariant();
        switch (name)
        {
            case "text" or "varchar" or "char" when syntax.Numbers.Count == 0:
                if (of.Type is RuleType.Other)
                    throw Wrong(syntax.Of.Place, "Nothing but whether it is there can be asked of it.");
                return of.Type is RuleType.Text ? of
                    : of.Type is RuleType.Nothing ? new Rule.Literal(RuleType.Text, null)
                    : new Rule.Apply(RuleType.Text, RuleOperation.ToText, [of]);
            case "integer" or "int" when syntax.Numbers.Count == 0:
                return new Rule.Apply(
                    RuleType.Number,
                    RuleOperation.ToNumber,
                    [As(RuleType.Number, of, syntax.Of.Place)],
                    RuleOperations.WholeNumbers
                );
            case "numeric" or "decimal":
                return BindNumeric(syntax, As(RuleType.Number, of, syntax.Of.Place));
            case "date" when of.Type is RuleType.Moment:
                return new Rule.Apply(RuleType.Date, RuleOperation.ToDate, [of]);
            case "timestamp" when of.Type is RuleType.Date:
                return new Rule.Apply(RuleType.Moment, RuleOperation.ToMoment, [of]);
            case "date" or "timestamp" when of.Type is RuleType.Nothing:
                return new Rule.Literal(name == "date" ? RuleType.Date : RuleType.Moment, null);
            case "date" when of.Type is RuleType.Date:
            case "timestamp" when of.Type is RuleType.Moment:
                return of;
            default:
                throw Wrong(
                    syntax.Type.Place,
                    $"{Words(of.Type)} cannot become {syntax.Type.Text}. What can be: anything text, a number integer or numeric(p, s), a moment date, a date timestamp; texts that stand for numbers or dates are read by the column's meaning."
                );
        }
    }

    private static Rule BindNumeric(RuleSyntax.Cast syntax, Rule of)
    {
        if (syntax.Numbers.Count == 0)
            return of;
        var numbers = syntax
            .Numbers.Select(text => int.TryParse(text, CultureInfo.InvariantCulture, out var number) ? number : -1)
            .ToList();
        var scale = numbers.Count > 1 ? numbers[1] : 0;
        if (numbers.Count > 2 || scale < 0 || scale > RuleNumber.Places || numbers[0] <= scale || numbers[0] - scale > 18)
            throw Wrong(
                syntax.Type.Place,
                "Write numeric(p, s) with at most ten digits s after the point and at most 18 before it."
            );
        return new Rule.Apply(
            RuleType.Number,
            RuleOperation.ToNumber,
            [of],
            string.Create(CultureInfo.InvariantCulture, $"{numbers[0]},{scale}")
        );
    }

    private Rule.Apply BindExtract(RuleSyntax.Extract syntax)
    {
        var of = Bind(syntax.Of);
        IEnumerable<string> known = of.Type switch
        {
            RuleType.Date => RuleCalendar.PartsOfDay,
            RuleType.Time => RuleCalendar.PartsOfTime,
            RuleType.Moment => RuleCalendar.PartsOfDay.Union(RuleCalendar.PartsOfTime),
            _ => throw Wrong(syntax.Of.Place, $"{Words(of.Type)} is no date or time. Name one."),
        };
        var part = syntax.Field.Text.ToLowerInvariant();
        return known.Contains(part)
            ? new Rule.Apply(RuleType.Number, RuleOperation.Extract, [of], part)
            : throw Wrong(
                syntax.Field.Place,
                $"“{syntax.Field.Text}” is no part of it. What can be asked for: {string.Join(", ", known)}."
            );
    }

    private Rule BindCall(RuleSyntax.Call call)
    {
        if (!call.Function.IsQuoted && RuleFunctions.Aggregates.TryGetValue(call.Function.Text.ToLowerInvariant(), out var how))
            return BindAggregate(call, how);
        if (call.Function.IsQuoted || RuleFunctions.Find(call.Function.Text) is not { } function)
            throw Wrong(
                call.Function.Place,
                $"There is no function “{call.Function.Text}”.{RuleNames.Meant(call.Function.Text, RuleFunctions.All.Select(one => one.Name).Concat(RuleFunctions.Aggregates.Keys))}"
            );
        if (call.Filter is { } filter)
            throw Wrong(
                filter.Place,
                $"filter belongs to {string.Join(", ", RuleFunctions.Aggregates.Keys)} only. Leave it out."
            );
        var least = function.Least ?? function.Parameters.Count;
        if (call.Arguments.Count < least || (!function.IsOpen && call.Arguments.Count > function.Parameters.Count))
            throw Wrong(
                call.Place,
                $"{function.Name} takes {(function.IsOpen ? "one value or more" : least == function.Parameters.Count ? Many(least) : $"{least} or {Many(function.Parameters.Count)}")}, not {call.Arguments.Count}."
            );
        var parts = call.Arguments.Select(Bind).ToList();
        if (!function.IsOfAny)
            return new Rule.Apply(function.Result!.Value, function.Operation, [.. parts.Select(Fitting)]);
        var (type, same) = Alike(parts, call.Arguments);
        if (type is RuleType.Truth && function.Operation is RuleOperation.Greatest or RuleOperation.Least)
            throw Wrong(call.Place, "True and false are not more or less than each other. Name something else.");
        return new Rule.Apply(type, function.Operation, same);

        Rule Fitting(Rule part, int place)
        {
            var at = call.Arguments[place].Place;
            var needed = As(function.Parameters[place], part, at);
            return place > 0 && needed.Type is RuleType.Number && function.Operation is not RuleOperation.Modulo
                ? Whole(needed, at)
                : needed;
        }
    }

    // How many days, which place, how many characters: rounded, whatever becomes of the rest.
    private static Rule Whole(Rule number, RulePlace place) =>
        Folded(new Rule.Apply(RuleType.Number, RuleOperation.ToNumber, [number], RuleOperations.WholeNumbers), place);

    private static string Many(int count) => count == 1 ? "one value" : $"{count} values";

    private Rule.Aggregate BindAggregate(RuleSyntax.Call call, RuleAggregate how)
    {
        if (_isWithin)
            throw Wrong(
                call.Place,
                "Within a condition on related records, no others can be asked for. Make it a computed column of theirs, and name that."
            );
        if (_level == MostLevels)
            throw Wrong(
                call.Place,
                $"Related records of related records are asked for at most {MostLevels} deep. Shorten the way."
            );
        if (call.Arguments is not [RuleSyntax.Name { Parts.Count: > 0 } name])
            throw Wrong(call.Place, $"Name the related records, such as {Example(how)}.");
        var isOfColumn = how is not (RuleAggregate.Count or RuleAggregate.Exists);
        var ofKind = isOfColumn ? [.. name.Parts.SkipLast(1)] : name.Parts;
        if (ofKind.Count == 0)
            throw Wrong(name.Place, $"Name the related records and their column, such as {Example(how)}.");
        var (scope, record, last) = _names.Walk(ofKind);
        var found = scope.Related.Where(kind => kind.Name.Equals(last.Text, StringComparison.OrdinalIgnoreCase)).ToList();
        if (found.Count == 0)
            found =
            [
                .. scope.Related.Where(kind =>
                    kind.Related.Panel.Definition.Label.Equals(last.Text, StringComparison.OrdinalIgnoreCase)
                ),
            ];
        if (found.Count != 1)
            throw Wrong(
                last.Place,
                $"Nothing called “{last.Text}” refers to {scope.Panel.Definition.Label}.{RuleNames.Meant(last.Text, scope.Related.Select(kind => kind.Name))}"
            );
        var related = found[0].Related;
        var within = new RuleBinder(
            new RuleScope(related.Panel, scope.Porch) { Reading = _own.Reading, Person = _own.Person },
            _own,
            _names.Renamed,
            _level + 1
        );
        var filter = call.Filter is { } condition ? As(RuleType.Truth, within.Bind(condition), condition.Place) : null;
        if (!isOfColumn)
            return new Rule.Aggregate(
                how is RuleAggregate.Count ? RuleType.Number : RuleType.Truth,
                how,
                record,
                related,
                null,
                filter
            );
        var value = within.Bind(new RuleSyntax.Name(name.Parts[^1].Place, [name.Parts[^1]]));
        if (how is RuleAggregate.Sum or RuleAggregate.Avg)
            value = As(RuleType.Number, value, name.Parts[^1].Place);
        else if (value.Type is RuleType.Truth or RuleType.Other)
            throw Wrong(name.Parts[^1].Place, $"{Words(value.Type)} has no least or greatest. Name another column.");
        return new Rule.Aggregate(value.Type, how, record, related, value, filter);
    }

    private string Example(RuleAggregate how)
    {
        var kind = _own.Related.Count > 0 ? _own.Related[0].Name : "stays";
        var word = how.ToString().ToLowerInvariant();
        return how is RuleAggregate.Count or RuleAggregate.Exists ? $"{word}({kind})" : $"{word}({kind}.price)";
    }

    private static Rule As(RuleType type, Rule rule, RulePlace place) =>
        rule.Type == type ? rule
        : rule is Rule.Literal { Type: RuleType.Nothing } ? new Rule.Literal(type, null)
        : throw Wrong(place, $"{Words(type)} is needed here; this is {Words(rule.Type, isWithin: true)}.{Way(type, rule.Type)}");

    private static string Way(RuleType needed, RuleType given) =>
        needed is RuleType.Text && given is not (RuleType.Other or RuleType.Nothing) ? " It becomes one by cast(… as text)." : "";

    // Of one type all of them, as far as null leaves it open.
    private static (RuleType Type, List<Rule> Same) Alike(List<Rule> parts, IReadOnlyList<RuleSyntax> syntax)
    {
        var type = parts.FirstOrDefault(part => part.Type is not RuleType.Nothing)?.Type ?? RuleType.Nothing;
        if (type is RuleType.Nothing)
            throw Wrong(syntax[0].Place.To(syntax[^1].Place), "Null alone says nothing. Write what is compared.");
        if (type is RuleType.Other)
            throw Wrong(syntax[0].Place, "Nothing but whether it is there (is null) can be asked of it.");
        // A day among moments is its beginning.
        if (type is RuleType.Date && parts.Exists(part => part.Type is RuleType.Moment))
            type = RuleType.Moment;
        return (
            type,
            [
                .. parts.Zip(syntax, (part, of) =>
                    type is RuleType.Moment && part.Type is RuleType.Date
                        ? Folded(new Rule.Apply(RuleType.Moment, RuleOperation.ToMoment, [part]), of.Place)
                        : As(type, part, of.Place)
                ),
            ]
        );
    }

    private static string Words(RuleType type, bool isWithin = false)
    {
        var words = type switch
        {
            RuleType.Number => "a number",
            RuleType.Text => "a text",
            RuleType.Date => "a date",
            RuleType.Moment => "a date with a time",
            RuleType.Time => "a time of day",
            RuleType.Truth => "a condition",
            RuleType.Nothing => "null",
            _ => "something that only can be there or not",
        };
        return isWithin ? words : char.ToUpperInvariant(words[0]) + words[1..];
    }

    private static RuleProblemException Wrong(RulePlace place, string message) => RuleProblemException.At(place, message);
}
