using System.Globalization;

namespace PlainPorch.Core.Imports;

/// <summary>A form that most values of a column have, and not all.</summary>
/// <param name="Form">The form.</param>
/// <param name="Misfits">How many values do not have it.</param>
/// <param name="Samples">Some of these, each once.</param>
public sealed record NearMiss(ValueForm Form, long Misfits, IReadOnlyList<string> Samples);

/// <summary>What a column of a file turned out to be.</summary>
/// <param name="Name">What the file calls it.</param>
/// <param name="Form">The form that all its values have.</param>
/// <param name="Values">How many rows have a value.</param>
/// <param name="Empty">How many rows have none.</param>
/// <param name="IsUnique">Whether no two rows have the same value; null where that was not followed to the end.</param>
/// <param name="Doubtful">How many values would mean something else if read by another form that all of them have, too.</param>
/// <param name="Otherwise">That other form; null for none.</param>
/// <param name="Nearly">A form that all but few have, where it is a text because of these; null for none.</param>
public sealed record ColumnGuess(
    string Name,
    ValueForm Form,
    long Values,
    long Empty,
    bool? IsUnique,
    long Doubtful = 0,
    ValueForm? Otherwise = null,
    NearMiss? Nearly = null
)
{
    private const int ShownLength = 60;

    /// <summary>How its values would be read otherwise; null where there is no doubt.</summary>
    public string? InOtherWords => Otherwise is { } other ? (other.Reading.Length > 0 ? other.Reading : other.StoreType) : null;

    /// <summary>What it would be but for a few values, such as "integer, but for 3 values such as n/a"; null for nothing.</summary>
    public string? NearlyInWords =>
        Nearly is { } nearly
            ? $"{nearly.Form.StoreType}, but for {nearly.Misfits} values such as {string.Join(", ", nearly.Samples.Select(one => one.Length > ShownLength ? $"{one[..ShownLength]}…" : one))}"
            : null;
}

/// <summary>
/// Guesses what the columns of a file are, by all of its rows: a type is taken only where every value has it, so that no row is lost
/// and no leading zero. It needs the same room whatever the number of rows.
/// </summary>
public sealed class ColumnGuesses
{
    private const int Samples = 3;
    private const int RowsBetweenWords = 10_000;

    // What fewer have than this share is no form that a column was meant to have.
    private const double Nearly = 0.95;

    // In a short file a slip of the pen is a larger share: so many are one, as long as two of three values are none.
    private const int FewSlips = 5;

    // Whether values are unique is followed by their hashes for so many rows; beyond, only where they rise.
    private const int MostHashes = 1_000_000;

    private static readonly (string Yes, string No)[] _pairs =
    [
        ("true", "false"),
        ("t", "f"),
        ("yes", "no"),
        ("y", "n"),
        ("ja", "nein"),
        ("j", "n"),
        ("oui", "non"),
        ("o", "n"),
        ("si", "no"),
        ("s", "n"),
    ];

    // The order is that of preference: of several forms that all values have the first is taken.
    private static readonly ValueForm[] _forms =
    [
        new ValueForm.Whole("numeric"),
        new ValueForm.Number('.', null),
        new ValueForm.Number('.', ','),
        new ValueForm.Number(',', '.'),
        new ValueForm.Number(',', ' '),
        new ValueForm.Number(',', '\u00a0'),
        new ValueForm.Number(',', '\u202f'),
        new ValueForm.Number('.', '\''),
        new ValueForm.Number('.', '’'),
        new ValueForm.Calendar("date", "yyyy-MM-dd"),
        new ValueForm.Calendar("date", "yyyy/MM/dd"),
        new ValueForm.Calendar("date", "dd.MM.yyyy"),
        new ValueForm.Calendar("date", "dd/MM/yyyy"),
        new ValueForm.Calendar("date", "MM/dd/yyyy"),
        new ValueForm.Calendar("date", "dd-MM-yyyy"),
        new ValueForm.Calendar("date", "MM-dd-yyyy"),
        new ValueForm.Calendar("date", "dd.MM.yy"),
        new ValueForm.Calendar("date", "dd/MM/yy"),
        new ValueForm.Calendar("date", "MM/dd/yy"),
        new ValueForm.Calendar("date", "dd MMM yyyy"),
        new ValueForm.Calendar("date", "dd-MMM-yyyy"),
        new ValueForm.Calendar("date", "yyyyMMdd"),
        new ValueForm.Calendar("timestamp without time zone", "yyyy-MM-ddTHH:mm:ss"),
        new ValueForm.Calendar("timestamp without time zone", "yyyy-MM-dd HH:mm:ss"),
        new ValueForm.Calendar("timestamp without time zone", "dd.MM.yyyy HH:mm:ss"),
        new ValueForm.Calendar("timestamp without time zone", "dd/MM/yyyy HH:mm:ss"),
        new ValueForm.Calendar("timestamp without time zone", "MM/dd/yyyy HH:mm:ss"),
        new ValueForm.Instant(),
        new ValueForm.Calendar("time without time zone", "HH:mm:ss"),
        new ValueForm.Uuid(),
    ];

    private readonly IReadOnlyList<FileColumn> _columns;
    private readonly Seen[] _seen;
    private readonly bool _hasPoints;

    /// <summary>Begins to guess.</summary>
    /// <param name="columns">The columns.</param>
    /// <param name="hasPoints">Whether numbers are certainly written with a point.</param>
    public ColumnGuesses(IReadOnlyList<FileColumn> columns, bool hasPoints = false)
    {
        ArgumentNullException.ThrowIfNull(columns);
        _columns = columns;
        _hasPoints = hasPoints;
        _seen = [.. columns.Select(column => new Seen(column.IsText || column.IsBytes))];
    }

    /// <summary>The forms that are looked for, the preferred ones first.</summary>
    public static IReadOnlyList<ValueForm> Forms => _forms;

    /// <summary>How many rows were looked at.</summary>
    public long Rows { get; private set; }

    /// <summary>
    /// Looks at all rows of a table that are some. One after the other: handed over to another thread, the texts outlive a collection
    /// of the youngest, and it takes twice the time.
    /// </summary>
    /// <param name="table">The table.</param>
    /// <param name="progress">Told how many rows were looked at, now and then.</param>
    /// <param name="cancellationToken">Stops it.</param>
    public static ColumnGuesses Of(FileTable table, Action<long> progress, CancellationToken cancellationToken)
    {
        ArgumentNullException.ThrowIfNull(table);
        ArgumentNullException.ThrowIfNull(progress);
        var guesses = new ColumnGuesses(table.Columns, table.HasPoints);
        foreach (var row in table.Rows())
        {
            if (row.Problem is not null)
                continue;
            guesses.Add(row.Values);
            if (guesses.Rows % RowsBetweenWords != 0)
                continue;
            cancellationToken.ThrowIfCancellationRequested();
            progress(guesses.Rows);
        }

        return guesses;
    }

    /// <summary>Looks at a row.</summary>
    public void Add(IReadOnlyList<string?> values)
    {
        ArgumentNullException.ThrowIfNull(values);
        Rows++;
        for (var place = 0; place < _seen.Length; place++)
            _seen[place].Add(place < values.Count ? values[place] : null);
    }

    /// <summary>What the columns are.</summary>
    public IReadOnlyList<ColumnGuess> Guess()
    {
        // How numbers and days are written is the same all over a file, mostly: what is certain in one column decides in another.
        var certain = _seen
            .SelectMany(one => one.Certain())
            .Concat(_hasPoints ? ["decimal ."] : Array.Empty<string>())
            .ToHashSet();
        return
        [
            .. _columns.Zip(_seen, (column, seen) =>
                seen.Guess(column.Name, certain) is var guess && column.IsBytes
                    ? guess with
                    {
                        Form = new ValueForm.Bytes(),
                    }
                    : guess
            ),
        ];
    }

    private sealed class Seen(bool isText)
    {
        private readonly long[] _misfits = new long[_forms.Length];
        private readonly List<string>?[] _samples = new List<string>?[_forms.Length];
        private readonly List<string> _spellings = [];

        // Of each pair of forms that read the same values otherwise, how many.
        private readonly Dictionary<(int, int), long> _differing = [];
        private List<int> _left = isText ? [] : [.. Enumerable.Range(0, _forms.Length)];
        private HashSet<ulong>? _hashes = [];
        private long? _last = long.MinValue;
        private bool _isDoubled;
        private long _least;
        private long _greatest;
        private bool _isHuge;
        private long _values;
        private long _empty;

        public void Add(string? value)
        {
            if (string.IsNullOrEmpty(value) || (!isText && string.IsNullOrWhiteSpace(value)))
            {
                _empty++;
                return;
            }

            _values++;
            var text = value.Trim();
            FollowSpelling(text);
            FollowForms(text);
            FollowUnique(value, text);
        }

        private void FollowSpelling(string text)
        {
            if (_spellings.Count <= 2 && !_spellings.Contains(text))
                _spellings.Add(text);
        }

        private void FollowForms(string text)
        {
            if (_left.Count == 0)
                return;
            string? first = null;
            var firstForm = -1;
            var isOut = false;
            // A whole number is the same in every form of a number.
            var isWhole = ValueForm.Whole.IsWhole(text);
            foreach (var form in _left)
            {
                if (isWhole && _forms[form] is ValueForm.Number)
                {
                    if (first is null)
                        (first, firstForm) = (text, form);
                    continue;
                }

                if (_forms[form].Read(text) is not { } read)
                {
                    isOut |= Miss(form, text);
                    continue;
                }

                if (_forms[form] is ValueForm.Whole)
                    FollowSize(read);
                if (first is null)
                    (first, firstForm) = (read, form);
                else if (read != first)
                    _differing[(firstForm, form)] = _differing.GetValueOrDefault((firstForm, form)) + 1;
            }

            if (isOut)
                _left = [.. _left.Where(form => !IsOut(form))];
        }

        private void FollowSize(string whole)
        {
            if (long.TryParse(whole, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number))
                (_least, _greatest) = (Math.Min(_least, number), Math.Max(_greatest, number));
            else
                _isHuge = true;
        }

        private bool Miss(int form, string text)
        {
            _misfits[form]++;
            if (_samples[form] is not { Count: >= Samples } && (_samples[form] ??= []) is var samples && !samples.Contains(text))
                samples.Add(text);
            return IsOut(form);
        }

        // Once more do not have a form than few can, it is looked at no further.
        private bool IsOut(int form) => _misfits[form] > Math.Max(5, _values * (1 - Nearly));

        private void FollowUnique(string value, string text)
        {
            if (_isDoubled)
                return;
            if (
                _last is { } last
                && long.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number)
                && number > last
            )
                _last = number;
            else
                _last = null;
            if (_hashes is null)
            {
                _isDoubled = _last is null;
                return;
            }

            if (!_hashes.Add(HashOf(value)))
                (_isDoubled, _hashes) = (true, null);
            else if (_hashes.Count >= MostHashes)
                _hashes = null;
        }

        // FNV-1a with 64 bits: two of a million different texts are alike once in thirty million files.
        private static ulong HashOf(string value)
        {
            var hash = 14695981039346656037UL;
            foreach (var one in value)
                hash = (hash ^ one) * 1099511628211UL;
            return hash;
        }

        public IEnumerable<string> Certain()
        {
            var fitting = _values == 0 ? [] : Fitting();
            return fitting.Count == 0 || _forms[fitting[0]] is ValueForm.Whole ? []
                : fitting.Select(form => StyleOf(_forms[form])).Distinct().ToList() is [{ Length: > 0 } only] ? [only]
                : [];
        }

        public ColumnGuess Guess(string name, HashSet<string> certain)
        {
            bool? isUnique =
                _isDoubled ? false
                : _values == 0 ? null
                : true;
            if (_values == 0 || isText)
                return new ColumnGuess(name, ValueForm.Text, _values, _empty, isUnique);
            if (PairOf(_spellings) is { } pair)
                return new ColumnGuess(name, pair, _values, _empty, IsUnique: false);
            var fitting = Fitting();
            if (fitting.Count == 0)
                return new ColumnGuess(name, ValueForm.Text, _values, _empty, isUnique, Nearly: NearlyOf());
            var first = _forms[fitting[0]];
            if (first is ValueForm.Whole)
            {
                var isDay = fitting.FirstOrDefault(form => _forms[form] is ValueForm.Calendar { Written: "yyyyMMdd" }, -1);
                return isDay >= 0 && _least >= 0 && _greatest is > 18000101 and < 22000101 && _values > 1
                    ? new ColumnGuess(name, _forms[isDay], _values, _empty, isUnique, _values, Sized())
                    : new ColumnGuess(name, Sized(), _values, _empty, isUnique);
            }

            var chosen = fitting.FirstOrDefault(form => certain.Contains(StyleOf(_forms[form])), fitting[0]);
            var other = fitting
                .Where(form => form != chosen)
                .Select(form => (Form: form, Count: Differing(chosen, form)))
                .OrderByDescending(one => one.Count)
                .FirstOrDefault();
            var isDoubtful = other.Count > 0 && !certain.Contains(StyleOf(_forms[chosen]));
            return new ColumnGuess(
                name,
                _forms[chosen],
                _values,
                _empty,
                isUnique,
                isDoubtful ? other.Count : 0,
                isDoubtful ? _forms[other.Form] : null
            );
        }

        private List<int> Fitting() => [.. _left.Where(form => _misfits[form] == 0)];

        private long Differing(int one, int other) =>
            _differing.GetValueOrDefault((one, other)) + _differing.GetValueOrDefault((other, one));

        private NearMiss? NearlyOf() =>
            _left
                .Where(form => _misfits[form] <= Math.Max(_values * (1 - Nearly), Math.Min(FewSlips, _values / 3)))
                .OrderBy(form => _misfits[form])
                .Take(1)
                .ToList()
                is [var form]
                ? new NearMiss(_forms[form] is ValueForm.Whole ? Sized() : _forms[form], _misfits[form], _samples[form] ?? [])
                : null;

        private ValueForm.Whole Sized() =>
            new(
                _isHuge ? "numeric"
                : _least >= int.MinValue && _greatest <= int.MaxValue ? "integer"
                : "bigint"
            );

        // In which order days are written, and by which sign fractions.
        private static string StyleOf(ValueForm form) =>
            form switch
            {
                ValueForm.Number number => $"decimal {number.Decimal}",
                ValueForm.Calendar { Written: ['d', ..] } => "day first",
                ValueForm.Calendar { Written: ['M', ..] } => "month first",
                _ => "",
            };

        private static ValueForm.YesNo? PairOf(List<string> spellings)
        {
            if (spellings.Count != 2)
                return null;
            foreach (var (yes, no) in _pairs)
                for (var place = 0; place < 2; place++)
                    if (
                        spellings[place].Equals(yes, StringComparison.OrdinalIgnoreCase)
                        && spellings[1 - place].Equals(no, StringComparison.OrdinalIgnoreCase)
                    )
                        return new ValueForm.YesNo(spellings[place], spellings[1 - place]);
            return null;
        }
    }
}
