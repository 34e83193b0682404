using System.Globalization;
using CsCheck;
using PlainPorch.Core.Schema;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Values;

public sealed class ValueTextTests
{
    private static readonly ColumnType _rate = new()
    {
        StoreType = "numeric(8,2)",
        Kind = ValueKind.Decimal,
        Precision = 8,
        Scale = 2,
    };

    [Theory]
    [InlineData(ValueKind.Integer, " 42 ", "42")]
    [InlineData(ValueKind.Integer, "+007", "7")]
    [InlineData(ValueKind.BigInteger, "-9223372036854775808", "-9223372036854775808")]
    [InlineData(ValueKind.Decimal, "00012.50", "12.50")]
    [InlineData(ValueKind.Decimal, ".5", "0.5")]
    [InlineData(ValueKind.Decimal, "-0.00", "0.00")]
    [InlineData(ValueKind.Decimal, "12345678901234567890123456789012345678.9", "12345678901234567890123456789012345678.9")]
    [InlineData(ValueKind.Double, "1e3", "1000")]
    [InlineData(ValueKind.Boolean, "Yes", "true")]
    [InlineData(ValueKind.Boolean, "f", "false")]
    [InlineData(ValueKind.Date, "2024-02-29", "2024-02-29")]
    [InlineData(ValueKind.Date, "Infinity", "infinity")]
    [InlineData(ValueKind.Time, "9:05", "09:05:00")]
    [InlineData(ValueKind.DateTime, "2026-03-31 14:30", "2026-03-31T14:30:00")]
    [InlineData(ValueKind.DateTime, "2026-03-31T14:30:00.123456", "2026-03-31T14:30:00.123456")]
    [InlineData(ValueKind.Instant, "2026-03-31T14:30:00+02:00", "2026-03-31T12:30:00Z")]
    [InlineData(ValueKind.Instant, "2026-03-31 12:30:00+00", "2026-03-31T12:30:00Z")]
    [InlineData(ValueKind.Date, "0044-03-15 bc", "0044-03-15 BC")]
    [InlineData(ValueKind.Date, "0001-01-01", "0001-01-01")]
    [InlineData(ValueKind.Date, "0005-02-29 BC", "0005-02-29 BC")]
    [InlineData(ValueKind.Date, "4713-11-24 BC", "4713-11-24 BC")]
    [InlineData(ValueKind.Date, "5874897-12-31", "5874897-12-31")]
    [InlineData(ValueKind.Time, "24:00", "24:00:00")]
    [InlineData(ValueKind.DateTime, "200000-01-01 12:00", "200000-01-01T12:00:00")]
    [InlineData(ValueKind.DateTime, "0044-03-15T12:00:00.5 BC", "0044-03-15T12:00:00.5 BC")]
    [InlineData(ValueKind.DateTime, "9999-12-31T23:59:59.999999", "9999-12-31T23:59:59.999999")]
    [InlineData(ValueKind.Instant, "0044-03-15T12:00:00Z BC", "0044-03-15T12:00:00Z BC")]
    [InlineData(ValueKind.Instant, "294276-12-31T23:59:59Z", "294276-12-31T23:59:59Z")]
    [InlineData(ValueKind.Decimal, "NaN", "NaN")]
    [InlineData(ValueKind.Array, "{{1,2},{3,4}}", "{{1,2},{3,4}}")]
    [InlineData(ValueKind.Array, "[0:1]={1,2}", "[0:1]={1,2}")]
    [InlineData(ValueKind.Uuid, "3F2B8C1E0D4A4F5E9C1B7A6D5E4F3C2B", "3f2b8c1e-0d4a-4f5e-9c1b-7a6d5e4f3c2b")]
    [InlineData(ValueKind.Text, "  kept as it is ", "  kept as it is ")]
    [InlineData(ValueKind.Other, "3 days", "3 days")]
    [InlineData(ValueKind.Json, """{"a": 1}""", """{"a": 1}""")]
    public void TryRead_Value_GivesItsOneForm(ValueKind kind, string input, string expected)
    {
        Assert.True(ValueText.TryRead(Type(kind), input, out var value, out var problem), problem);
        Assert.Equal(expected, value);
    }

    [Theory]
    [InlineData(ValueKind.SmallInteger, "32768", "between -32768 and 32767")]
    [InlineData(ValueKind.Integer, "2147483648", "between -2147483648 and 2147483647")]
    [InlineData(ValueKind.BigInteger, "99999999999999999999", "between")]
    [InlineData(ValueKind.Integer, "12.5", "Not a whole number")]
    [InlineData(ValueKind.Integer, "", "Not a whole number")]
    [InlineData(ValueKind.Decimal, "12,5", "Not a number")]
    [InlineData(ValueKind.Decimal, "1e5", "Not a number")]
    [InlineData(ValueKind.Decimal, ".", "Not a number")]
    [InlineData(ValueKind.Real, "1e40", "too large")]
    [InlineData(ValueKind.Boolean, "maybe", "Neither true nor false")]
    [InlineData(ValueKind.Date, "2023-02-29", "no such date")]
    [InlineData(ValueKind.Date, "31.03.2026", "year-month-day")]
    [InlineData(ValueKind.Date, "0004-02-29 BC", "no such date")]
    [InlineData(ValueKind.Date, "4713-11-23 BC", "no such date")]
    [InlineData(ValueKind.Date, "5874898-01-01", "no such date")]
    [InlineData(ValueKind.Date, "0000-01-01", "no such date")]
    [InlineData(ValueKind.Date, "٢٠٢٦-٠١-٠١", "no such date")]
    [InlineData(ValueKind.DateTime, "294277-01-01 00:00", "Not a date and time")]
    [InlineData(ValueKind.DateTime, "2026-03-31 24:00", "Not a date and time")]
    [InlineData(ValueKind.Instant, "infinityZ", "Not a date, time and offset")]
    [InlineData(ValueKind.Integer, "١٢٣", "Not a whole number")]
    [InlineData(ValueKind.Decimal, "１２", "Not a number")]
    [InlineData(ValueKind.Json, "\"\\u0000\"", "null character")]
    [InlineData(ValueKind.Time, "24:01", "Not a time of day")]
    [InlineData(ValueKind.Time, "25:00", "Not a time of day")]
    [InlineData(ValueKind.Instant, "2026-03-31T14:30:00", "offset")]
    [InlineData(ValueKind.Uuid, "xyz", "Not a UUID")]
    [InlineData(ValueKind.Json, "{a:1}", "line 1")]
    [InlineData(ValueKind.Binary, "ff", "cannot be typed")]
    [InlineData(ValueKind.Text, "a\0b", "null character")]
    public void TryRead_NoValueOfTheType_SaysWhatIsWrong(ValueKind kind, string input, string fragment)
    {
        Assert.False(ValueText.TryRead(Type(kind), input, out var kept, out var problem));
        Assert.Contains(fragment, problem, StringComparison.Ordinal);
        Assert.Equal(input.Trim(), kept.Trim());
    }

    [Theory]
    [InlineData("123456.78", null)]
    [InlineData("1234567", "At most 6 digits before the point")]
    [InlineData("1.234", "At most 2 digits after the point")]
    [InlineData("1.2300", null)]
    public void TryRead_Decimal_KeepsToPrecisionAndScale(string input, string? fragment)
    {
        Assert.Equal(fragment is null, ValueText.TryRead(_rate, input, out _, out var problem));
        if (fragment is not null)
            Assert.Contains(fragment, problem, StringComparison.Ordinal);
    }

    [Fact]
    public void TryRead_TooLongText_SaysByHowMuch()
    {
        var type = new ColumnType
        {
            StoreType = "varchar(3)",
            Kind = ValueKind.Text,
            MaxLength = 3,
        };
        Assert.False(ValueText.TryRead(type, "abcde", out _, out var problem));
        Assert.Contains("Shorten it by 2", problem, StringComparison.Ordinal);
        Assert.True(ValueText.TryRead(type, "⛵⛵🚢", out _, out _));
    }

    [Fact]
    public void TryRead_Enum_TakesOnlyItsLabels()
    {
        var type = new ColumnType
        {
            StoreType = "mood",
            Kind = ValueKind.Enum,
            EnumValues = ["calm", "rough"],
        };
        Assert.True(ValueText.TryRead(type, "calm", out _, out _));
        Assert.False(ValueText.TryRead(type, "Calm", out _, out var problem));
        Assert.Contains("calm, rough", problem, StringComparison.Ordinal);
    }

    [Fact]
    public void TryRead_Array_ReadsEachItemAndNamesTheWrongOne()
    {
        var type = new ColumnType
        {
            StoreType = "integer[]",
            Kind = ValueKind.Array,
            Element = ValueKind.Integer,
        };
        Assert.True(ValueText.TryRead(type, """["01", null, "2"]""", out var value, out _));
        Assert.Equal("""["1",null,"2"]""", value);
        Assert.False(ValueText.TryRead(type, """["1", "two"]""", out _, out var problem));
        Assert.StartsWith("Item 2:", problem, StringComparison.Ordinal);
    }

    [Fact]
    public void TryRead_ItsOwnOutput_ChangesNothing() =>
        Gen.Select(
                Gen.OneOfConst(
                    ValueKind.Integer,
                    ValueKind.BigInteger,
                    ValueKind.Decimal,
                    ValueKind.Double,
                    ValueKind.Boolean,
                    ValueKind.Date,
                    ValueKind.Time,
                    ValueKind.DateTime,
                    ValueKind.Instant,
                    ValueKind.Uuid
                ),
                Gen.OneOf(
                    Gen.Long.Select(n => n.ToString(CultureInfo.InvariantCulture)),
                    Gen.Decimal.Select(d => d.ToString(CultureInfo.InvariantCulture)),
                    Gen.DateTime.Select(d => d.ToString("yyyy-MM-ddTHH:mm:ss'Z'", CultureInfo.InvariantCulture)),
                    Gen.Date.Select(d => d.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)),
                    Gen.Guid.Select(g => g.ToString()),
                    Gen.OneOfConst("yes", "0", "1", "14:05", "infinity", "-0", "NaN")
                )
            )
            .Sample(
                (kind, input) =>
                {
                    if (!ValueText.TryRead(Type(kind), input, out var once, out _))
                        return;
                    Assert.True(ValueText.TryRead(Type(kind), once, out var twice, out var problem), problem);
                    Assert.Equal(once, twice);
                }
            );

    [Fact]
    public void TryRead_Decimal_KeepsTheNumber() =>
        Gen.Decimal.Sample(number =>
        {
            Assert.True(
                ValueText.TryRead(Type(ValueKind.Decimal), number.ToString(CultureInfo.InvariantCulture), out var value, out _)
            );
            Assert.Equal(number, decimal.Parse(value, CultureInfo.InvariantCulture));
        });

    [Theory]
    [InlineData(3, 5, "0.00999", null)]
    [InlineData(3, 5, "0.01", "closer to zero than 0.01")]
    [InlineData(3, 5, "1", "closer to zero than 0.01")]
    [InlineData(2, 2, "0.99", null)]
    [InlineData(2, 2, "1", "between -1 and 1")]
    [InlineData(3, 2, "12", "At most 1 digit before the point is allowed")]
    [InlineData(2, -3, "99999", null)]
    [InlineData(2, -3, "999999", "At most 5 digits before the point are allowed")]
    public void TryRead_NumberOfAnyScale_SaysWhatFits(int precision, int scale, string input, string? says)
    {
        var type = new ColumnType
        {
            StoreType = $"numeric({precision},{scale})",
            Kind = ValueKind.Decimal,
            Precision = precision,
            Scale = scale,
        };
        Assert.Equal(says is null, ValueText.TryRead(type, input, out _, out var problem));
        Assert.Contains(says ?? "", problem ?? "", StringComparison.Ordinal);
    }

    private static ColumnType Type(ValueKind kind) => new() { StoreType = "any", Kind = kind };
}
