using PlainPorch.Core.Schema;
using PlainPorch.Core.Survey;
using PlainPorch.Core.Survey.Meanings;

namespace PlainPorch.Core.Tests.Survey;

public sealed class FindingListTests
{
    private static readonly SurveyReport _report = Survey(ownersReferredTo: true);
    private static readonly FindingSubject _owner = new(FindingSort.Reference, new TableName("public", "boats"), ["owner_id"]);
    private static readonly FindingSubject _paid = new(FindingSort.Meaning, new TableName("public", "boats"), ["is_paid"]);

    [Fact]
    public void Of_NoDecisions_ListsReferencesMeaningsAndShapes()
    {
        var findings = FindingList.Of(_report, []);
        Assert.Contains(findings, finding =>
            finding.Subject.Id == _owner.Id && finding.Value == "public.owners(id)" && finding.Verdict is null
        );
        Assert.Contains(findings, finding => finding.Subject.Id == _paid.Id && finding.Value == "yesNoInDisguise");
        Assert.All(findings, finding => Assert.Equal(FindingSupport.Found, finding.Support));
    }

    [Fact]
    public void Apply_Overruled_TakesTheReferenceAndTheMeaningAway()
    {
        var applied = FindingList.Apply(
            _report,
            [Decide(_owner, Verdict.Wrong, "public.owners(id)"), Decide(_paid, Verdict.Wrong, "yesNoInDisguise")]
        );
        Assert.Empty(applied.References);
        Assert.Equal(Meaning.Plain, applied.Columns.Single(column => column.Name == "is_paid").Kind);
    }

    [Fact]
    public void Apply_AcceptedAsSomethingElse_HoldsTheDevelopersWord()
    {
        var applied = FindingList.Apply(_report, [Decide(_paid, Verdict.Right, "choice")]);
        Assert.Equal(
            (Meaning.Choice, 1.0),
            applied.Columns.Where(column => column.Name == "is_paid").Select(column => (column.Kind, column.Confidence)).Single()
        );
    }

    [Fact]
    public void Of_AcceptedAndLostByANewSurvey_StaysAndSaysSo()
    {
        var decision = Decide(_owner, Verdict.Right, "public.owners(id)");
        var without = Survey(ownersReferredTo: false);
        var finding = FindingList.Of(without, [decision]).Single(finding => finding.Subject.Id == _owner.Id);
        Assert.Equal((Verdict.Right, FindingSupport.Lost), (finding.Verdict, finding.Support));
        Assert.Equal(1, FindingList.Apply(without, [decision]).References.Single().Confidence);
    }

    [Fact]
    public void Of_OverruledAndSomethingElseFoundNow_IsOpenAgain()
    {
        var finding = FindingList
            .Of(_report, [Decide(_owner, Verdict.Wrong, "public.harbours(id)")])
            .Single(finding => finding.Subject.Id == _owner.Id);
        Assert.Null(finding.Verdict);
        Assert.Single(FindingList.Apply(_report, [Decide(_owner, Verdict.Wrong, "public.harbours(id)")]).References);
    }

    [Fact]
    public void Of_AcceptedAndSomethingElseFoundNow_TellsWhat()
    {
        var finding = FindingList
            .Of(_report, [Decide(_paid, Verdict.Right, "money")])
            .Single(finding => finding.Subject.Id == _paid.Id);
        Assert.Equal(("money", FindingSupport.Otherwise), (finding.Value, finding.Support));
        Assert.Contains("yes or no", finding.Evidence, StringComparison.Ordinal);
    }

    [Fact]
    public void Of_TwinsWithoutKey_AreTold()
    {
        var rows = new MakeRows().Table(
            "waiting",
            "name text, place int",
            [.. MakeRows.Count(12, n => [$"P{n}", $"{n}"]), ["P1", "1"]],
            key: []
        );
        var report = SurveyReport.Make(rows.Snapshot, rows.Rows, rows.Find());
        Assert.Equal(1, report.Tables[0].Twins);
        Assert.Contains(FindingList.Of(report, []), finding =>
            finding.Says.Contains("one row is the same", StringComparison.Ordinal)
        );
        Assert.NotEmpty(report.Tables[0].NearMisses);
    }

    private static FindingDecision Decide(FindingSubject subject, Verdict verdict, string value) =>
        new(
            subject,
            verdict,
            value,
            _report.References.SingleOrDefault(reference => FindingList.SubjectOf(reference).Id == subject.Id),
            DateTimeOffset.UnixEpoch
        );

    private static SurveyReport Survey(bool ownersReferredTo)
    {
        var rows = new MakeRows()
            .Table("owners", "id int, name text", MakeRows.Count(30, n => [$"{n}", $"Owner {n}"]))
            .Table(
                "boats",
                "id int, owner_id int, is_paid int",
                MakeRows.Count(60, n => [$"{n}", ownersReferredTo ? $"{1 + (n % 30)}" : $"{n + 9000}", n % 2 == 0 ? "-1" : "0"])
            );
        return SurveyReport.Make(rows.Snapshot, rows.Rows, ownersReferredTo ? rows.Find() : []);
    }
}
