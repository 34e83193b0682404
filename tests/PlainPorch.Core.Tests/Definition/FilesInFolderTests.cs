using CsCheck;
using PlainPorch.Core.Definition;

namespace PlainPorch.Core.Tests.Definition;

public sealed class FilesInFolderTests
{
    [Theory]
    [InlineData("", "a.jpg", "photos/a.jpg")]
    [InlineData("", @"1998\may\a.jpg", "photos/1998/may/a.jpg")]
    [InlineData("", " ./a.jpg ", "photos/a.jpg")]
    [InlineData(@"C:\HARBOUR\", @"c:\harbour\a.jpg", "photos/a.jpg")]
    [InlineData(@"C:\HARBOUR\", "C:/HARBOUR/a.jpg", "photos/a.jpg")]
    [InlineData(@"\\server\share\", @"\\SERVER\share\b\a.jpg", "photos/b/a.jpg")]
    [InlineData(@"C:\HARBOUR\", "a.jpg", "photos/a.jpg")]
    [InlineData("", "/etc/passwd", null)]
    [InlineData("", @"\\server\a.jpg", null)]
    [InlineData("", @"C:\a.jpg", null)]
    [InlineData("", "../a.jpg", null)]
    [InlineData(@"C:\HARBOUR\", @"C:\HARBOUR\..\a.jpg", null)]
    [InlineData("", "", null)]
    [InlineData("", "  ", null)]
    [InlineData("", ".", null)]
    [InlineData("", "a\0.jpg", null)]
    public void AStoredPath_LeadsBelowTheFolder_OrNowhere(string before, string path, string? way)
    {
        var found = new FilesInFolder { Folder = "photos", Before = before }.WayTo(path);
        Assert.Equal(way, found is null ? null : string.Join('/', found));
    }

    [Fact]
    public void NoPathAtAll_LeadsOutOfTheFolder() =>
        Gen.Select(Gen.OneOfConst("", "../", @"C:\", "/", @"\\x\", "a/../"), Paths)
            .Sample(
                (before, path) =>
                    new FilesInFolder { Folder = "photos", Before = before }.WayTo(path) is not { } way
                    || (
                        way[0] == "photos"
                        && way.Count > 1
                        && way.All(name => name is not ("" or "." or "..") && name.IndexOfAny(['/', '\\', '\0', ':']) < 0)
                        && Path.GetFullPath(Path.Combine(["/kept", .. way])).StartsWith("/kept/photos/", StringComparison.Ordinal)
                    )
            );

    [Fact]
    public void WhatIsStored_LeadsToWhereItWasLaid() =>
        Gen.Select(Gen.OneOfConst("", @"C:\HARBOUR\", @"C:\HARBOUR", "//server/share", "photos/"), Names)
            .Sample(
                (before, name) =>
                {
                    var files = new FilesInFolder { Folder = "a/b", Before = before };
                    return files.WayTo(files.PathOf(name)) is { } way && way.SequenceEqual(["a", "b", name]);
                }
            );

    [Fact]
    public void Beginnings_AreTheFoldersThatAllPathsGoThrough()
    {
        Assert.Equal(
            [@"C:\H\P\", @"C:\H\", @"C:\"],
            FilesInFolder.BeginningsOf([@"C:\H\P\one.jpg", "c:/h/p/other.jpg", @"C:\H\P\o\two.jpg"])
        );
        Assert.Empty(FilesInFolder.BeginningsOf(["one.jpg", "other.jpg"]));
        Assert.Empty(FilesInFolder.BeginningsOf([]));
    }

    [Theory]
    [InlineData("photos", null, true)]
    [InlineData("a/b", "pdf", true)]
    [InlineData("", ".pdf", true)]
    [InlineData("..", null, false)]
    [InlineData("a/../../b", null, false)]
    [InlineData("/etc", null, false)]
    [InlineData(@"C:\x", null, false)]
    [InlineData("photos", "p/df", false)]
    [InlineData("photos", " ", false)]
    public void WhatNamesNoFolderOrEnding_IsAProblem(string folder, string? ending, bool isWell) =>
        Assert.Equal(isWell, new FilesInFolder { Folder = folder, Endings = ending is null ? [] : [ending] }.Problem() is null);

    private static Gen<string> Names => Gen.Char["abcÄ-_. ()1"].Array[1, 12].Select(all => $"n{new string(all).Trim()}x");

    private static Gen<string> Paths => Gen.Char["aB./\\: \0-"].Array[0, 14].Select(all => new string(all));
}
