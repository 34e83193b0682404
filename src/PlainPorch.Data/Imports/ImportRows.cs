namespace PlainPorch.Data.Imports;

/// <summary>How an import stands.</summary>
public enum ImportState
{
    /// <summary>Its files are looked at.</summary>
    Looking,

    /// <summary>It waits for somebody to say how it is to be done.</summary>
    Ready,

    /// <summary>It is found out what it would do.</summary>
    Planning,

    /// <summary>It is being done.</summary>
    Running,

    /// <summary>It is done.</summary>
    Done,

    /// <summary>Somebody stopped it, and nothing was written.</summary>
    Stopped,

    /// <summary>It could not be done, and nothing was written.</summary>
    Failed,

    /// <summary>It was done, and taken back.</summary>
    TakenBack,
}

/// <summary>An import: its files, how they are to be brought in, and what became of it.</summary>
public sealed class ImportRow
{
    /// <summary>Its number, which nobody can guess.</summary>
    public Guid Id { get; set; }

    /// <summary>The source into which it goes.</summary>
    public int SourceId { get; set; }

    /// <summary>The panel into which it goes; null where it makes new tables.</summary>
    public int? PanelId { get; set; }

    /// <summary>Who began it.</summary>
    public required string Who { get; set; }

    /// <summary>How it stands.</summary>
    public ImportState State { get; set; }

    /// <summary>What is being done, for people.</summary>
    public required string Step { get; set; }

    /// <summary>How much of the step is done.</summary>
    public long Done { get; set; }

    /// <summary>How much there is to do in it; 0 where that is not known.</summary>
    public long Total { get; set; }

    /// <summary>When it was begun.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>When the step began that is being done, or the last one.</summary>
    public DateTimeOffset StepAt { get; set; }

    /// <summary>When whoever works at it last gave a sign of life.</summary>
    public DateTimeOffset BeatAt { get; set; }

    /// <summary>Whether it is to stop.</summary>
    public bool StopAsked { get; set; }

    /// <summary>Why it could not be done, or was left; null for no reason.</summary>
    public string? Problem { get; set; }

    /// <summary>The <see cref="Core.Imports.ImportSettings"/>, or those of a panel's import, as JSON; null before it was looked at.</summary>
    public string? Settings { get; set; }

    /// <summary>The <see cref="Core.Imports.LookedTable"/>s as JSON; null before it was looked at.</summary>
    public string? Look { get; set; }

    /// <summary>What it would do, as JSON; null where that is not known.</summary>
    public string? Plan { get; set; }

    /// <summary>What it did, or is about to do, as JSON; null before.</summary>
    public string? Result { get; set; }

    /// <summary>The source's number of the transaction that does it; null before.</summary>
    public string? Transaction { get; set; }

    /// <summary>The name of the recipe that it follows; null for none.</summary>
    public string? Recipe { get; set; }
}

/// <summary>A file that was sent to be brought in.</summary>
public sealed class ImportFileRow
{
    /// <summary>Its number.</summary>
    public Guid Id { get; set; }

    /// <summary>The import that it is for.</summary>
    public Guid ImportId { get; set; }

    /// <summary>What it is called.</summary>
    public required string Name { get; set; }

    /// <summary>How many bytes it has.</summary>
    public long Size { get; set; }

    /// <summary>Where it lies below the server's folder; null where it was sent, and its bytes are here.</summary>
    public string? Path { get; set; }
}

/// <summary>Some bytes of a file.</summary>
public sealed class ImportPartRow
{
    /// <summary>The file.</summary>
    public Guid FileId { get; set; }

    /// <summary>The place of the part in it, from 0.</summary>
    public int Number { get; set; }

    /// <summary>The bytes.</summary>
    public required byte[] Content { get; set; }
}

/// <summary>An import with its settings, kept to be run again on the next files.</summary>
public sealed class RecipeRow
{
    /// <summary>The catalog's number of it.</summary>
    public int Id { get; set; }

    /// <summary>The panel into which it goes.</summary>
    public int PanelId { get; set; }

    /// <summary>What it is called; unique among those of its panel.</summary>
    public required string Name { get; set; }

    /// <summary>The <see cref="Core.Imports.PanelImportSettings"/> as JSON.</summary>
    public required string Content { get; set; }

    /// <summary>Which files of the server's folder it is run on when they arrive, such as <c>readings-*.csv</c>; null for none.</summary>
    public string? Watches { get; set; }

    /// <summary>Who kept it, and in whose name it runs when a file arrives.</summary>
    public required string Who { get; set; }

    /// <summary>When it was kept.</summary>
    public DateTimeOffset At { get; set; }
}
