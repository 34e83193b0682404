namespace PlainPorch.Data.Survey;

/// <summary>A survey of a source: running, or what it found.</summary>
public sealed class SurveyRow
{
    /// <summary>The catalog's number of it; a later one is greater.</summary>
    public int Id { get; set; }

    /// <summary>The source that is surveyed.</summary>
    public int SourceId { get; set; }

    /// <summary>How it stands.</summary>
    public SurveyState State { get; set; }

    /// <summary>What is being done, for people.</summary>
    public required string Step { get; set; }

    /// <summary>How many parts of the step are done.</summary>
    public int Done { get; set; }

    /// <summary>How many parts the step has.</summary>
    public int Total { get; set; }

    /// <summary>When it began.</summary>
    public DateTimeOffset StartedAt { get; set; }

    /// <summary>When whoever runs it last gave a sign of life.</summary>
    public DateTimeOffset BeatAt { get; set; }

    /// <summary>When it ended; null while it runs.</summary>
    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>Whether it is to stop.</summary>
    public bool StopAsked { get; set; }

    /// <summary>Whether the panels of the whole porch are drafted when it is done.</summary>
    public bool ThenDraft { get; set; }

    /// <summary>Why it failed, for people; null where it did not.</summary>
    public string? Problem { get; set; }

    /// <summary>The <see cref="Core.Survey.SurveyReport"/> as JSON; null until it is done.</summary>
    public string? Content { get; set; }
}

/// <summary>How a survey stands.</summary>
public enum SurveyState
{
    /// <summary>It runs.</summary>
    Running,

    /// <summary>It is done.</summary>
    Done,

    /// <summary>Somebody stopped it.</summary>
    Stopped,

    /// <summary>It could not be done.</summary>
    Failed,
}

/// <summary>A developer's decision about a finding.</summary>
public sealed class DecisionRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>The source that the finding is about.</summary>
    public int SourceId { get; set; }

    /// <summary>Which finding is meant, as <see cref="Core.Survey.FindingSubject.Id"/> writes it; unique in its source.</summary>
    public required string Subject { get; set; }

    /// <summary>The <see cref="Core.Survey.FindingDecision"/> as JSON.</summary>
    public required string Content { get; set; }
}

/// <summary>A word of a source's own word list.</summary>
public sealed class WordRow
{
    /// <summary>The source whose word it is.</summary>
    public int SourceId { get; set; }

    /// <summary>The word as it stands in names, in small letters.</summary>
    public required string Word { get; set; }

    /// <summary>What it means in labels.</summary>
    public required string Means { get; set; }
}
