using Parlot;
using Parlot.Fluent;

namespace PlainPorch.Core.Rules;

/// <summary>
/// Reads the text of an expression: a subset of SQL's value expressions (ISO/IEC 9075-2, clause 6), with the precedence of
/// operators that PostgreSQL has.
/// </summary>
internal static class RuleGrammar
{
    /// <summary>How long an expression can be, in characters.</summary>
    public const int MostCharacters = 4_000;

    /// <summary>How deep its parts can stand within each other.</summary>
    public const int MostDepth = 40;

    private static readonly HashSet<string> _reserved = new(StringComparer.OrdinalIgnoreCase)
    {
        "and",
        "or",
        "not",
        "is",
        "null",
        "true",
        "false",
        "in",
        "between",
        "like",
        "case",
        "when",
        "then",
        "else",
        "end",
        "distinct",
        "from",
        "filter",
        "where",
        "as",
    };

    private static readonly Parser<RuleSyntax> _whole = Build();

    /// <summary>Whether a word means something by itself, so that a column of that name stands in quotation marks.</summary>
    public static bool IsReserved(string word) => _reserved.Contains(word);

    /// <summary>Reads an expression.</summary>
    /// <param name="text">The text.</param>
    /// <exception cref="RuleProblemException">It is none; the problem tells where.</exception>
    public static RuleSyntax Read(string text)
    {
        if (text.Length > MostCharacters)
            throw Problem(
                MostCharacters,
                text.Length,
                $"An expression has at most {MostCharacters:N0} characters. Shorten it by {text.Length - MostCharacters:N0}."
            );
        if (text.IndexOf('\0', StringComparison.Ordinal) is >= 0 and var nul)
            throw Problem(nul, nul + 1, "It contains a null character. Remove it.");
        if (string.IsNullOrWhiteSpace(text))
            throw Problem(0, 0, "Write an expression, such as departure >= arrival.");
        var context = new Reached(new Scanner(text));
        try
        {
            var result = new ParseResult<RuleSyntax>();
            if (_whole.Parse(context, ref result))
                return Bounded(result.Value);
        }
        catch (ParseException)
        {
            throw TooDeep(new RulePlace(context.Furthest, text.Length));
        }

        throw Unexpected(text, context.Furthest);
    }

    private static RuleSyntax Bounded(RuleSyntax read)
    {
        // Of operators one after the other a tree comes to be as deep as there are operators.
        var standing = new Stack<(RuleSyntax One, int Depth)>([(read, 1)]);
        while (standing.TryPop(out var next))
        {
            if (next.Depth > MostDepth * 4)
                throw TooDeep(next.One.Place);
            foreach (var part in PartsOf(next.One))
                standing.Push((part, next.Depth + 1));
        }

        return read;
    }

    private static IEnumerable<RuleSyntax> PartsOf(RuleSyntax one) =>
        one switch
        {
            RuleSyntax.Call call => call.Filter is { } filter ? call.Arguments.Append(filter) : call.Arguments,
            RuleSyntax.Extract extract => [extract.Of],
            RuleSyntax.Cast cast => [cast.Of],
            RuleSyntax.Operator several => several.Parts,
            RuleSyntax.Case cases => cases
                .Cases.SelectMany(pair => new[] { pair.When, pair.Then })
                .Concat(new[] { cases.Of, cases.Else }.OfType<RuleSyntax>()),
            _ => [],
        };

    private static RuleProblemException TooDeep(RulePlace place) =>
        Problem(place.Start, place.End, "Too many parts stand within each other here. Part it into several expressions.");

    private static RuleProblemException Unexpected(string text, int furthest)
    {
        var start = furthest;
        while (start < text.Length && char.IsWhiteSpace(text[start]))
            start++;
        if (start == text.Length)
            return Problem(text.Length, text.Length, "Something is missing at the end.");
        var end = start + 1;
        if (char.IsLetterOrDigit(text[start]))
        {
            while (end < text.Length && (char.IsLetterOrDigit(text[end]) || text[end] is '_'))
                end++;
        }

        var word = text[start..end];
        return Problem(
            start,
            end,
            word switch
            {
                "'" => "This text is never closed. Put a quotation mark ' behind it.",
                "\"" => "This name is never closed. Put a quotation mark \" behind it.",
                ":" => "A value becomes another type by cast(… as …).",
                ";" => "An expression is one value, without a semicolon. Leave it out.",
                "!" => "Write <> for “is not the same”.",
                "[" or "]" => "Names with blanks stand in quotation marks \" \", and lists in parentheses. Correct it.",
                _ => $"“{word}” is not expected here.",
            }
        );
    }

    private static RuleProblemException Problem(int start, int end, string message) =>
        new(new RuleProblem(new RulePlace(start, end), message));

    private static Parser<RuleSyntax> Build()
    {
        var expression = Deferred<RuleSyntax>();
        var name = Bare()
            .Or(
                Token(Terms.String(StringLiteralQuotes.Double, StringEscapes.Sql), (text, place) =>
                    new RuleName(place, text.ToString(), IsQuoted: true)
                )
            );
        var open = Sign('(');
        var close = Sign(')');
        var comma = Sign(',');
        var several = Separated(comma, expression);

        var number = Token(
            Terms.Pattern(char.IsAsciiDigit).And(ZeroOrOne(Literals.Char('.').And(Literals.Pattern(char.IsAsciiDigit)))),
            (parts, place) =>
                new RuleSyntax.Number(
                    place,
                    parts.Item2.Count > 0 ? $"{parts.Item1}.{parts.Item2[0].Item2}" : parts.Item1.ToString()
                )
        );
        var plainText = Token(Terms.String(StringLiteralQuotes.Single, StringEscapes.Sql), (text, place) =>
            (Text: text.ToString(), Place: place)
        );
        var quoted = plainText.Then<RuleSyntax>(text => new RuleSyntax.Quoted(text.Place, text.Text, null));
        var typed = OneOf(Word("date"), Word("timestamp"), Word("time"))
            .And(plainText)
            .Then<RuleSyntax>(pair => new RuleSyntax.Quoted(
                pair.Item1.Place.To(pair.Item2.Place),
                pair.Item2.Text,
                pair.Item1.Text
            ));
        var word = OneOf(Word("true"), Word("false"), Word("null"))
            .Then<RuleSyntax>(one => new RuleSyntax.Word(
                one.Place,
                one.Text switch
                {
                    "true" => true,
                    "false" => false,
                    _ => null,
                }
            ));
        var nested = open.SkipAnd(expression).AndSkip(close);

        var when = Word("when").SkipAnd(expression).And(Word("then").SkipAnd(expression));
        var cases = Word("case")
            .And(ZeroOrOne(expression))
            .And(OneOrMany(when))
            .And(ZeroOrOne(Word("else").SkipAnd(expression)))
            .And(Word("end"))
            .Then<RuleSyntax>(parts => new RuleSyntax.Case(
                parts.Item1.Place.To(parts.Item5.Place),
                parts.Item2 is [var of] ? of : null,
                [.. parts.Item3.Select(pair => (pair.Item1, pair.Item2))],
                parts.Item4 is [var otherwise] ? otherwise : null
            ));

        var digits = Token(Terms.Pattern(char.IsAsciiDigit), (text, _) => text.ToString());
        var cast = Word("cast")
            .AndSkip(open)
            .And(expression)
            .AndSkip(Word("as"))
            .And(name)
            .And(ZeroOrOne(open.SkipAnd(Separated(comma, digits)).AndSkip(close)))
            .And(close)
            .Then<RuleSyntax>(parts => new RuleSyntax.Cast(
                parts.Item1.Place.To(parts.Item5),
                parts.Item2,
                parts.Item3,
                parts.Item4 is [var numbers] ? numbers : []
            ));
        var extract = Word("extract")
            .AndSkip(open)
            .And(name)
            .AndSkip(Word("from"))
            .And(expression)
            .And(close)
            .Then<RuleSyntax>(parts => new RuleSyntax.Extract(parts.Item1.Place.To(parts.Item4), parts.Item2, parts.Item3));

        var all = Sign('*').Then<RuleSyntax>(place => new RuleSyntax.Name(place, []));
        var arguments = all.Then<IReadOnlyList<RuleSyntax>>(one => [one]).Or(several).Or(Always<IReadOnlyList<RuleSyntax>>([]));
        var filter = Word("filter")
            .SkipAnd(open)
            .SkipAnd(Word("where"))
            .SkipAnd(expression)
            .And(close)
            .Then(parts => (Filter: parts.Item1, End: parts.Item2));
        var call = name.AndSkip(open)
            .And(arguments)
            .And(close)
            .And(ZeroOrOne(filter))
            .Then<RuleSyntax>(parts => new RuleSyntax.Call(
                parts.Item1.Place.To(parts.Item4.Count > 0 ? parts.Item4[0].End : parts.Item3),
                parts.Item1,
                parts.Item2,
                parts.Item4.Count > 0 ? parts.Item4[0].Filter : null
            ));
        var path = Separated(Sign('.'), name)
            .Then<RuleSyntax>(parts => new RuleSyntax.Name(parts[0].Place.To(parts[^1].Place), [.. parts]));

        var primary = OneOf(number, quoted, typed, word, nested, cases, cast, extract, call, path);
        var signed = ZeroOrMany(OneOf(Operator("-", RuleOperation.Negate), Operator("+", null)))
            .And(primary)
            .Then(parts =>
                parts
                    .Item1.Reverse()
                    .Aggregate(parts.Item2, (of, sign) =>
                        sign.Operation is { } operation ? Made(sign.Place.To(of.Place), operation, of) : of
                    )
            );
        var product = Chain(
            signed,
            OneOf(Operator("*", RuleOperation.Multiply), Operator("/", RuleOperation.Divide), Operator("%", RuleOperation.Modulo))
        );
        var sum = Chain(product, OneOf(Operator("+", RuleOperation.Add), Operator("-", RuleOperation.Subtract)));
        var joined = Chain(sum, Operator("||", RuleOperation.Join));
        var compared = Compared(joined, several, open, close);
        var not = ZeroOrMany(Word("not"))
            .And(compared)
            .Then(parts =>
                parts.Item1.Reverse().Aggregate(parts.Item2, (of, sign) => Made(sign.Place.To(of.Place), RuleOperation.Not, of))
            );
        var and = Chain(not, Word("and").Then(one => (one.Place, Operation: (RuleOperation?)RuleOperation.And)));
        expression.Parser = Chain(and, Word("or").Then(one => (one.Place, Operation: (RuleOperation?)RuleOperation.Or)));
        return expression.AndSkip(Terms.WhiteSpace().Or(Always<TextSpan>())).Eof();
    }

    private static Parser<RuleSyntax> Compared(
        Parser<RuleSyntax> part,
        Parser<IReadOnlyList<RuleSyntax>> several,
        Parser<RulePlace> open,
        Parser<RulePlace> close
    )
    {
        var comparison = OneOf(
                Operator("<>", RuleOperation.NotEqual),
                Operator("<=", RuleOperation.AtMost),
                Operator(">=", RuleOperation.AtLeast),
                Operator("=", RuleOperation.Equal),
                Operator("<", RuleOperation.Less),
                Operator(">", RuleOperation.More)
            )
            .And(part)
            .Then<Func<RuleSyntax, RuleSyntax>>(pair =>
                of => Made(of.Place.To(pair.Item2.Place), pair.Item1.Operation!.Value, of, pair.Item2)
            );
        var not = ZeroOrOne(Word("not"));
        var isNull = Word("null")
            .Then<Func<RuleSyntax, RuleSyntax>>(word => of => Made(of.Place.To(word.Place), RuleOperation.IsNull, of));
        var isTrue = OneOf(Word("true"), Word("false"))
            .Then<Func<RuleSyntax, RuleSyntax>>(word =>
                of =>
                    Made(
                        of.Place.To(word.Place),
                        RuleOperation.NotDistinct,
                        of,
                        new RuleSyntax.Word(word.Place, word.Text == "true")
                    )
            );
        var isDistinct = Word("distinct")
            .SkipAnd(Word("from"))
            .SkipAnd(part)
            .Then<Func<RuleSyntax, RuleSyntax>>(other => of => Made(of.Place.To(other.Place), RuleOperation.Distinct, of, other));
        var state = Word("is").SkipAnd(not).And(OneOf(isNull, isTrue, isDistinct)).Then(Negated);
        var between = Word("between")
            .SkipAnd(part)
            .AndSkip(Word("and"))
            .And(part)
            .Then<Func<RuleSyntax, RuleSyntax>>(ends =>
                of =>
                    Made(
                        of.Place.To(ends.Item2.Place),
                        RuleOperation.And,
                        Made(of.Place.To(ends.Item1.Place), RuleOperation.AtLeast, of, ends.Item1),
                        Made(of.Place.To(ends.Item2.Place), RuleOperation.AtMost, of, ends.Item2)
                    )
            );
        var among = Word("in")
            .SkipAnd(open)
            .SkipAnd(several)
            .And(close)
            .Then<Func<RuleSyntax, RuleSyntax>>(pair =>
                of => new RuleSyntax.Operator(of.Place.To(pair.Item2), RuleOperation.In, [of, .. pair.Item1])
            );
        var like = Word("like")
            .SkipAnd(part)
            .Then<Func<RuleSyntax, RuleSyntax>>(pattern =>
                of => Made(of.Place.To(pattern.Place), RuleOperation.Like, of, pattern)
            );
        var test = not.And(OneOf(between, among, like)).Then(Negated);
        return part.And(ZeroOrOne(OneOf(comparison, state, test)))
            .Then(parts => parts.Item2.Count > 0 ? parts.Item2[0](parts.Item1) : parts.Item1);

        static Func<RuleSyntax, RuleSyntax> Negated(
            ValueTuple<IReadOnlyList<(string Text, RulePlace Place)>, Func<RuleSyntax, RuleSyntax>> parts
        ) =>
            parts.Item1.Count == 0
                ? parts.Item2
                : of => parts.Item2(of) is var made ? Made(made.Place, RuleOperation.Not, made) : of;
    }

    private static Parser<RuleSyntax> Chain(Parser<RuleSyntax> part, Parser<(RulePlace Place, RuleOperation? Operation)> joint) =>
        part.And(ZeroOrMany(joint.And(part)))
            .Then(parts =>
                parts.Item2.Aggregate(parts.Item1, (left, right) =>
                    Made(left.Place.To(right.Item2.Place), right.Item1.Operation!.Value, left, right.Item2)
                )
            );

    private static RuleSyntax.Operator Made(RulePlace place, RuleOperation operation, params RuleSyntax[] parts) =>
        new(place, operation, parts);

    private static Parser<RulePlace> Sign(char sign) => Token(Terms.Char(sign), (_, place) => place);

    private static Parser<(RulePlace Place, RuleOperation? Operation)> Operator(string sign, RuleOperation? operation) =>
        Token(Terms.Text(sign), (_, place) => (place, operation));

    private static Parser<(string Text, RulePlace Place)> Word(string word) =>
        Token(Identifier().When((_, text) => text.Span.Equals(word, StringComparison.OrdinalIgnoreCase)), (_, place) =>
            (word, place)
        );

    private static Parser<RuleName> Bare() =>
        Token(Identifier().When((_, text) => !_reserved.Contains(text.ToString()!)), (text, place) =>
            new RuleName(place, text.ToString()!, IsQuoted: false)
        );

    private static Parser<TextSpan> Identifier() =>
        Terms.Identifier(c => c is '_' || char.IsLetter(c), c => c is '_' || char.IsLetterOrDigit(c));

    // How far reading came tells where it stopped to make sense.
    private static Parser<U> Token<T, U>(Parser<T> token, Func<T, RulePlace, U> make) =>
        token.Then(
            (context, start, end, value) =>
            {
                ((Reached)context).Furthest = Math.Max(((Reached)context).Furthest, end);
                return make(value, new RulePlace(start, end));
            }
        );

    private sealed class Reached(Scanner scanner)
        : ParseContext(
            scanner,
            maxRecursionDepth: MostDepth,
            useNewLines: false,
            disableLoopDetection: false,
            CancellationToken.None
        )
    {
        public int Furthest { get; set; }
    }
}
