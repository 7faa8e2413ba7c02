using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Swaps;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/ladder</c>: five versions of a chart for one student.</summary>
internal static class LadderCall
{
    public sealed record SkillsItem(double? Fingers, double? Stretch, double? ShortBarre, double? FullBarre, double? Muting, double? Thumb, double? Changes, double? RightHand);

    public sealed record StudentItem(string? Hand, string? Guitar, bool? Thumb, string? Barres, SkillsItem? Skills);

    public sealed record Request(string? Chart, string? Format, string? Aim, int? MaxCapo, int? Capo, string? Company, StudentItem? Student);

    public sealed record PositionItem(int Capo, string ShapeKey, IReadOnlyList<bool> Feasible, IReadOnlyList<double?> Loads, IReadOnlyList<double?> Closeness, int FullBarres);

    public sealed record ChordItem(string Symbol, string ShapeName, IReadOnlyList<int?> Frets, IReadOnlyList<int> Fingers, double Load, double Closeness, string Swap, string Reason, string? Before);

    public sealed record ChangeItem(string From, string To, int Count, double NeededSeconds, double AvailableSeconds, double PInTime);

    public sealed record StrumItem(string Name, string Steps, IReadOnlyList<string> Count, double Load);

    public sealed record RungItem(
        int Number, string Name, int Capo, bool Feasible, string? BlockedBy, double Load, double Closeness, double Fit, double? ComfortableTempo, string? Verdict,
        string Reason, bool SameAsBelow, IReadOnlyList<string> NewShapes, IReadOnlyList<string> LeftOut, IReadOnlyList<ChordItem> Chords, IReadOnlyList<ChangeItem> Changes, StrumItem Strum);

    public sealed record ProblemItem(int Line, int Column, string Message);

    public sealed record Answer(
        string Title, string Key, double Tempo, string Meter, IReadOnlyList<string> Chords, IReadOnlyList<PositionItem> Positions, int Capo, int? WorkingRung,
        IReadOnlyList<RungItem> Rungs, IReadOnlyList<ProblemItem> Problems);

    public static Answer Handle(Request request, WorkLimits work)
    {
        var reading = ChartFormats.Read(request.Chart, request.Format, "format", work.Cancel);
        if (LadderBuilder.Objection(reading.Chart.Chords.Count) is { } objection) throw new ApiProblem("chart", objection);
        var ladder = LadderBuilder.Build(new LadderRequest
        {
            Chart = reading.Chart,
            Player = ToPlayer(request.Student),
            Aim = Requests.ToChoice(request.Aim, Aim.Record, "aim"),
            HighestCapo = Requests.ToCapo(request.MaxCapo ?? LadderRequest.DefaultHighestCapo, "maxCapo"),
            Capo = request.Capo is null ? null : Requests.ToCapo(request.Capo),
            Company = Requests.ToChoice(request.Company, Company.Record, "company"),
        }, work);
        return Describe(ladder, reading.Problems);
    }

    private static Player ToPlayer(StudentItem? student)
    {
        if (student is null) return new Player();
        var usual = new Skills();
        var given = student.Skills;
        var skills = given is null ? usual : new Skills
        {
            Fingers = given.Fingers ?? usual.Fingers, Stretch = given.Stretch ?? usual.Stretch, ShortBarre = given.ShortBarre ?? usual.ShortBarre,
            FullBarre = given.FullBarre ?? usual.FullBarre, Muting = given.Muting ?? usual.Muting, Thumb = given.Thumb ?? usual.Thumb,
            Changes = given.Changes ?? usual.Changes, RightHand = given.RightHand ?? usual.RightHand,
        };
        if (skills.FirstOutOfRange() is { } technique)
            throw new ApiProblem($"student.skills.{char.ToLowerInvariant(technique[0])}{technique[1..]}", "A skill is a number from 0 to 100.");
        return new Player
        {
            Hand = Requests.ToHand(student.Hand, "student.hand"), Guitar = Requests.ToGuitar(student.Guitar, "student.guitar"), Thumb = student.Thumb ?? false,
            Barres = Requests.ToChoice(student.Barres, BarreGoal.Neutral, "student.barres"), Skills = skills,
        };
    }

    private static Answer Describe(Ladder ladder, IReadOnlyList<ChartProblem> problems) => new(
        ladder.Chart.Title, ladder.Chart.Key.ToString(), ladder.Chart.Tempo, ladder.Chart.Meter.ToString(), [.. ladder.Flow.Chords.Select(c => c.Name)],
        [.. ladder.Positions.Select(p => new PositionItem(
            p.Capo, p.ShapeKey.ToString(), [.. p.Rungs.Select(r => r is not null)], [.. p.Rungs.Select(r => r is null ? (double?)null : Math.Round(r.Load, 1))],
            [.. p.Rungs.Select(r => r is null ? (double?)null : Percent(r.Closeness))], p.Barres))],
        ladder.Capo, ladder.WorkingRung, [.. ladder.Rungs.Select(r => DescribeRung(ladder, r))], [.. problems.Select(p => new ProblemItem(p.Line, p.Column, p.Message))]);

    private static RungItem DescribeRung(Ladder ladder, Rung rung) => new(
        rung.Limits.Number, rung.Limits.Name, rung.Capo, rung.IsFeasible, rung.BlockedBy, Math.Round(rung.Load, 1), Percent(rung.Closeness), Percent(rung.Fit?.Value ?? 0),
        rung.Fit?.ComfortableTempo, rung.Fit?.Verdict.ToString().ToLowerInvariant(), rung.Reason, rung.SameAsBelow,
        [.. rung.Played.Where(c => c.IsNew).Select(c => c.Sounding.Name)], [.. rung.Chords.Where(c => c.IsLeftOut).Select(c => c.Sounding.Name)],
        [.. rung.Played.Select(c => new ChordItem(
            c.Sounding.Name, c.ShapeChord.Name, Requests.FromShape(c.Choice.Fingering.Shape), [.. c.Choice.Fingering.Fingers.Select(f => (int)f)],
            Math.Round(c.Choice.Load, 1), Percent(c.Choice.Closeness.Value), SwapReasons.Name(c.Choice.Kind), c.Reason, c.Before?.Name))],
        [.. (rung.Fit?.Changes ?? []).Select(c => new ChangeItem(
            rung.Flow.Chords[c.From].Name, rung.Flow.Chords[c.To].Name, c.Count, Math.Round(c.NeededSeconds, 2), Math.Round(c.AvailableSeconds, 2), Math.Round(c.InTime, 3)))],
        new StrumItem(rung.Strum.Name, rung.Strum.Steps, rung.Strum.Count, Math.Round(rung.StrumLoad, 1)));

    private static double Percent(double share) => Math.Round(100 * share, 1);
}
