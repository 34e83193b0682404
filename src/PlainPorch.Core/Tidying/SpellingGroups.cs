namespace PlainPorch.Core.Tidying;

/// <summary>Finds spellings of a column that look like one value. It only proposes: what is one, a person decides.</summary>
public static class SpellingGroups
{
    private const int ShortestInitials = 2;
    private const int LongestInitials = 6;

    // Two spellings that are both frequent, or both of the same few, are two things.
    private const int Rarer = 4;

    /// <summary>Groups spellings.</summary>
    /// <param name="spellings">The spellings, each once.</param>
    /// <returns>The groups, that of most records first; what looks like nothing else is in none.</returns>
    public static IReadOnlyList<SpellingGroup> Find(IEnumerable<Spelling> spellings)
    {
        ArgumentNullException.ThrowIfNull(spellings);
        var clusters = spellings
            .Select(spelling => (Spelling: spelling, Form: SpellingForm.Of(spelling.Value)))
            .Where(one => one.Form.Letters.Length > 0)
            .GroupBy(one => one.Form.Letters)
            .Select(alike => new Cluster([.. alike.Select(one => one.Spelling)], alike.MaxBy(one => one.Form.Words.Count).Form))
            .ToList();
        clusters = Join(clusters, WordOrder, Likeness.WordOrder);
        clusters = Join(clusters, ByInitials, Likeness.Initials);
        clusters = Join(clusters, ByLetters, Likeness.Letters);
        return
        [
            .. clusters
                .Where(cluster => cluster.Spellings.Count > 1)
                .Select(cluster => cluster.ToGroup())
                .OrderByDescending(group => group.Spellings.Sum(spelling => spelling.Count))
                .ThenBy(group => group.Spellings[0].Value, StringComparer.Ordinal),
        ];
    }

    // Each pair is a cluster with the one that takes it in.
    private static List<Cluster> Join(
        List<Cluster> clusters,
        Func<List<Cluster>, IEnumerable<(Cluster Taken, Cluster By)>> pairs,
        Likeness by
    )
    {
        var taken = new HashSet<Cluster>();
        foreach (var (one, other) in pairs(clusters).ToList())
        {
            if (taken.Add(one))
                other.TakeIn(one, by);
        }

        return clusters.FindAll(cluster => !taken.Contains(cluster));
    }

    private static IEnumerable<(Cluster, Cluster)> WordOrder(List<Cluster> clusters) =>
        clusters
            .Where(cluster => cluster.Form.Words.Count > 1)
            .GroupBy(cluster => cluster.Form.Sorted)
            .SelectMany(alike =>
                alike.OrderByDescending(cluster => cluster.Count).ToList() is [var first, .. var others]
                    ? others.Select(other => (other, first))
                    : []
            );

    // Initials that two names have are of neither.
    private static IEnumerable<(Cluster, Cluster)> ByInitials(List<Cluster> clusters)
    {
        var full = clusters
            .Where(cluster => cluster.Form.Words.Count is >= ShortestInitials and <= LongestInitials && cluster.Form.Digits == "")
            .GroupBy(cluster => cluster.Form.Initials)
            .Where(alike => alike.Count() == 1)
            .ToDictionary(alike => alike.Key, alike => alike.Single());
        return clusters
            .Where(cluster => cluster.Form.Words.Count == 1 && full.ContainsKey(cluster.Form.Letters))
            .Select(cluster => (cluster, full[cluster.Form.Letters]));
    }

    // The frequent ones are right, the rare ones mistyped: each goes to the most frequent one near it, and takes none with it, so
    // that no chain leads from one word to quite another.
    private static IEnumerable<(Cluster, Cluster)> ByLetters(List<Cluster> clusters)
    {
        var near = new NearWords();
        var right = new Dictionary<string, Cluster>();
        foreach (
            var cluster in clusters
                .OrderByDescending(cluster => cluster.Count)
                .ThenBy(cluster => cluster.Form.Letters, StringComparer.Ordinal)
        )
        {
            var found = near.Near(cluster.Form.Letters)
                .Select(letters => right[letters])
                .Where(other =>
                    other.Form.Digits == cluster.Form.Digits
                    && (cluster.Count * Rarer <= other.Count || (cluster.Count < other.Count && cluster.Count <= 2))
                )
                .MaxBy(other => other.Count);
            if (found is not null)
            {
                yield return (cluster, found);
                continue;
            }

            right[cluster.Form.Letters] = cluster;
            near.Add(cluster.Form.Letters);
        }
    }

    private sealed class Cluster(List<Spelling> spellings, SpellingForm form)
    {
        private Likeness _by = Likeness.Signs;

        public List<Spelling> Spellings { get; } = spellings;

        public SpellingForm Form => form;

        // As it is before others are taken in.
        public long Count { get; } = spellings.Sum(spelling => spelling.Count);

        public void TakeIn(Cluster other, Likeness by)
        {
            Spellings.AddRange(other.Spellings);
            _by = (Likeness)Math.Max((int)Math.Max((int)_by, (int)other._by), (int)by);
        }

        public SpellingGroup ToGroup()
        {
            var most = Spellings.Max(spelling => spelling.Count);
            return new(
                [
                    .. Spellings
                        // Nearly as frequent as any, and written with care, is what a person would choose.
                        .OrderByDescending(spelling => spelling.Count * 2 >= most && IsWrittenWithCare(spelling.Value))
                        .ThenByDescending(spelling => spelling.Count)
                        .ThenBy(spelling => spelling.Value, StringComparer.Ordinal),
                ],
                _by
            );
        }

        private static bool IsWrittenWithCare(string value) =>
            value.Length > 0 && char.IsUpper(value[0]) && value.Any(char.IsLower) && value.Trim() == value;
    }
}
