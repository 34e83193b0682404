namespace PlainPorch.Core.Values;

/// <summary>
/// How many letters have to be put in, left out, replaced or swapped with their neighbour to make one word of another (optimal string
/// alignment; Damerau 1964, Levenshtein 1966).
/// </summary>
public static class EditDistance
{
    /// <summary>Whether two words are at most so far apart.</summary>
    /// <param name="one">A word.</param>
    /// <param name="other">Another one.</param>
    /// <param name="most">The greatest distance that counts.</param>
    public static bool IsWithin(string one, string other, int most)
    {
        if (Math.Abs(one.Length - other.Length) > most)
            return false;
        var (before, last, row) = (new int[other.Length + 1], new int[other.Length + 1], new int[other.Length + 1]);
        for (var j = 0; j <= other.Length; j++)
            last[j] = j;
        for (var i = 1; i <= one.Length; i++)
        {
            row[0] = i;
            var least = i;
            for (var j = 1; j <= other.Length; j++)
            {
                var cost = one[i - 1] == other[j - 1] ? 0 : 1;
                row[j] = Math.Min(Math.Min(row[j - 1], last[j]) + 1, last[j - 1] + cost);
                if (i > 1 && j > 1 && one[i - 1] == other[j - 2] && one[i - 2] == other[j - 1])
                    row[j] = Math.Min(row[j], before[j - 2] + 1);
                least = Math.Min(least, row[j]);
            }

            if (least > most)
                return false;
            (before, last, row) = (last, row, before);
        }

        return last[other.Length] <= most;
    }
}
