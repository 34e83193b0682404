using System.Collections.Frozen;
using System.Text.Json.Serialization;
using PlainPorch.Core.Definition;
using PlainPorch.Core.Panels;
using PlainPorch.Data.Uploads;

namespace PlainPorch.Data.Records;

/// <summary>A record as it is now.</summary>
/// <param name="Key">Its key, as <see cref="Core.Records.RecordKey"/> writes it.</param>
/// <param name="Title">How it is called.</param>
/// <param name="Values">Columns with texts in the one form, as the panel reads them; null where empty. Of bytes their number.</param>
/// <param name="Version">Its version, to be given back with a change.</param>
/// <param name="Lookups">For each lookup column whose value refers to a record, how that one is called.</param>
/// <param name="IsSetAside">Whether a marker in its table says that it is set aside.</param>
public sealed record RecordView(
    string Key,
    string Title,
    IReadOnlyDictionary<string, string?> Values,
    uint Version,
    IReadOnlyDictionary<string, LookupTitle> Lookups,
    bool IsSetAside
)
{
    /// <summary>Columns that are read otherwise than they are stored, with what is stored; null where that is empty.</summary>
    public IReadOnlyDictionary<string, string?> Stored { get; init; } = FrozenDictionary<string, string?>.Empty;

    /// <summary>Columns of formatted texts that have one, with harmless HTML to show.</summary>
    public IReadOnlyDictionary<string, string> Formatted { get; init; } = FrozenDictionary<string, string>.Empty;

    /// <summary>Columns with what does not fit their readings, and so is told as it is stored.</summary>
    public IReadOnlyList<string> Unfit { get; init; } = [];

    /// <summary>Why columns that code of one's own computes are empty, by their names; empty where none is for that reason.</summary>
    public IReadOnlyDictionary<string, string> NotComputed { get; init; } = FrozenDictionary<string, string>.Empty;

    /// <summary>Columns that hold paths, with the files that they lead to, in their order.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<RecordFile>> Files { get; init; } =
        FrozenDictionary<string, IReadOnlyList<RecordFile>>.Empty;

    /// <summary>The same with what is found of the files whose paths it holds.</summary>
    /// <param name="panel">The panel that shows it.</param>
    /// <param name="folder">Where the files lie.</param>
    public RecordView WithFiles(BoundPanel panel, FileFolder folder)
    {
        ArgumentNullException.ThrowIfNull(panel);
        ArgumentNullException.ThrowIfNull(folder);
        var held = panel.Columns.Where(column => column.Files is not null && Values.GetValueOrDefault(column.Name) is not null);
        return held.Any()
            ? this with
            {
                Files = held.ToDictionary(
                    column => column.Name,
                    IReadOnlyList<RecordFile> (column) =>
                        [
                            .. column
                                .PathsIn(Values[column.Name])
                                .Select(path => new RecordFile(
                                    FilesInFolder.NameOf(path),
                                    folder.Find(column.Files!, path)?.Length
                                )),
                        ]
                ),
            }
            : this;
    }

    /// <summary>All values as they are stored.</summary>
    [JsonIgnore]
    public IReadOnlyDictionary<string, string?> AllStored =>
        Stored.Count == 0
            ? Values
            : Values.ToDictionary(pair => pair.Key, pair => Stored.GetValueOrDefault(pair.Key, pair.Value));
}

/// <summary>A file whose path a record's column holds.</summary>
/// <param name="Name">Its name, without its folders.</param>
/// <param name="Bytes">How many bytes it has; null where it is not there.</param>
public sealed record RecordFile(string Name, long? Bytes);
