using PlainPorch.Core.Schema;

namespace PlainPorch.Core.Survey.Meanings;

/// <summary>Finds what should not be shown to everybody, and is no secret. Their evidence tells shares and shapes, never a value.</summary>
internal static class SensitiveDetectors
{
    public static ColumnMeaning? NationalNumber(ColumnFacts column)
    {
        var named =
            column.Says("ssn", "nino", "natid", "bsn", "passport", "nif", "dni", "cpf", "pesel", "tin", "taxid")
            || (column.Says("nat", "national", "personal", "insurance", "social") && column.Says("id", "no", "nr", "number"));
        if (!named)
            return null;
        var digits = column.Share(text => text.Count(char.IsDigit) >= 6 && text.Length <= 20);
        return column.Filled.Count == 0 || digits > 0.8
            ? new(
                Meaning.Sensitive,
                column.Filled.Count == 0 ? 0.8 : 0.93,
                $"its name suggests a national number, and {ColumnFacts.Percent(digits)} of the values have its shape"
            )
            : null;
    }

    public static ColumnMeaning? Account(ColumnFacts column)
    {
        if (!column.IsText)
            return null;
        var ibans = column.Share(CheckDigits.IsIban);
        if (ibans > 0.7)
            return new(Meaning.Sensitive, 0.98, $"{ColumnFacts.Percent(ibans)} of the values are IBANs by their check digits");
        var cards = column.Share(CheckDigits.IsCard);
        return cards > 0.9 && column.Filled.Count >= 5
            ? new(Meaning.Sensitive, 0.95, $"{ColumnFacts.Percent(cards)} of the values are card numbers by their check digit")
            : null;
    }

    public static ColumnMeaning? BirthDate(ColumnFacts column) =>
        column.Says("birth", "birthday", "birthdate", "dob", "born")
        && column.Kind is ValueKind.Date or ValueKind.DateTime or ValueKind.Text
            ? new(Meaning.Sensitive, 0.9, "its name suggests a birth date")
            : null;
}
