using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/ladder</c>: five versions of a chart for one student.</summary>
internal static class LadderCall
{
    public sealed record SkillsItem(double? Fingers, double? Stretch, double? ShortBarre, double? FullBarre, double? Muting,
        double? Thumb, double? Changes, double? RightHand);

    public sealed record StudentItem(string? Hand, string? Guitar, bool? Thumb, string? Barres, SkillsItem? Skills);

    public sealed record Request(string? Chart, string? Format, string? Aim, int? MaxCapo, int? Capo, string? Company,
        StudentItem? Student);

    public sealed record PositionItem(int Capo, string ShapeKey, IReadOnlyList<bool> Feasible, IReadOnlyList<double?> Loads,
        IReadOnlyList<double?> Closeness, int FullBarres);

    public sealed record ChordItem(string Symbol, string ShapeName, IReadOnlyList<int?> Frets, IReadOnlyList<int> Fingers,
        double Load, double Closeness, string Swap, string Reason, string? Before);

    public sealed record ChangeItem(string From, string To, int Count, double NeededSeconds, double AvailableSeconds,
        double PInTime);

    public sealed record StrumItem(string Name, string Steps, IReadOnlyList<string> Count, double Load);

    public sealed record RungItem(
        int Number, string Name, int Capo, bool Feasible, string? BlockedBy, double Load, double Closeness, double Fit,
        double? ComfortableTempo, string? Verdict,
        string Reason, bool SameAsBelow, IReadOnlyList<string> NewShapes, IReadOnlyList<string> LeftOut,
        IReadOnlyList<ChordItem> Chords, IReadOnlyList<ChangeItem> Changes, StrumItem Strum);

    public sealed record ProblemItem(int Line, int Column, string Message);

    public sealed record Answer(
        string Title, string Key, double Tempo, string Meter, IReadOnlyList<string> Chords,
        IReadOnlyList<PositionItem> Positions, int Capo, int? WorkingRung,
        IReadOnlyList<RungItem> Rungs, IReadOnlyList<ProblemItem> Problems);

    public static Answer Handle(Request request, WorkLimits work, LadderShelf ladders)
    {
        var reading = ChartFormats.Read(request.Chart, request.Format, "format", work.Cancel);
        if (LadderBuilder.Objection(reading.Chart.Chords.Count) is { } objection) throw new ApiProblem("chart", objection);
        var player = ToPlayer(request.Student);
        var asked = new ArrangementRequest
        {
            Chart = reading.Chart,
            Kind = player.Kind,
            Aim = Requests.ToChoice(request.Aim, Aim.Record, "aim"),
            HighestCapo = Requests.ToCapo(request.MaxCapo ?? ArrangementRequest.DefaultHighestCapo, "maxCapo"),
            Capo = request.Capo is null ? null : Requests.ToCapo(request.Capo),
            Accompaniment = Requests.ToChoice(request.Company, Accompaniment.Record, "company"),
        };
        return Describe(new StudentLadder(ladders.Get($"{request.Format} {request.Chart}", asked, work), player),
            reading.Problems);
    }

    /// <summary>The student of a request; the usual one when left out.</summary>
    internal static Player ToPlayer(StudentItem? student, string field = "student")
    {
        if (student is null) return new Player();
        var usual = new Skills();
        var given = student.Skills;
        var skills = given is null ? usual : new Skills
        {
            Fingers = given.Fingers ?? usual.Fingers, Stretch = given.Stretch ?? usual.Stretch,
            ShortBarre = given.ShortBarre ?? usual.ShortBarre,
            FullBarre = given.FullBarre ?? usual.FullBarre, Muting = given.Muting ?? usual.Muting,
            Thumb = given.Thumb ?? usual.Thumb,
            Changes = given.Changes ?? usual.Changes, RightHand = given.RightHand ?? usual.RightHand,
        };
        if (skills.FirstOutOfRange() is { } technique)
            throw new ApiProblem($"{field}.skills.{char.ToLowerInvariant(technique[0])}{technique[1..]}",
                "A skill is a number from 0 to 100.");
        return new Player
        {
            Hand = Requests.ToHand(student.Hand, $"{field}.hand"), Guitar = Requests.ToGuitar(student.Guitar, $"{field}.guitar"),
            Thumb = student.Thumb ?? false,
            Barres = Requests.ToChoice(student.Barres, BarreGoal.Neutral, $"{field}.barres"), Skills = skills,
        };
    }

    private static Answer Describe(StudentLadder graded, IReadOnlyList<ChartProblem> problems)
    {
        var ladder = graded.Ladder;
        return new Answer(
            ladder.Chart.Title, ladder.Chart.Key.ToString(), ladder.Chart.Tempo, ladder.Chart.Meter.ToString(),
            [.. ladder.Flow.Chords.Select(c => c.Name)],
            [.. ladder.Places.Select(Describe)], ladder.Capo, graded.WorkingRung,
            [.. ladder.Rungs.Select(r => Describe(r, graded.FitOf(r)))],
            [.. problems.Select(p => new ProblemItem(p.Line, p.Column, p.Message))]);
    }

    private static PositionItem Describe(Place p) => new(
        p.Capo, p.ShapeKey.ToString(), [.. p.Rungs.Select(r => r is not null)],
        [.. p.Rungs.Select(r => r is null ? (double?)null : Math.Round(r.Value.Load, 1))],
        [.. p.Rungs.Select(r => r is null ? (double?)null : Percent(r.Value.Closeness))], p.Barres);

    private static RungItem Describe(Rung rung, VersionFit? fit) => rung switch
    {
        PlayableRung playable => Describe(playable, fit!),
        BlockedRung blocked => new RungItem(
            blocked.Number, blocked.Limits.Name, blocked.Capo, false, ShapeWords.Say(blocked, NoteNames.AsKey), 0, 0, 0, null,
            null, "", false, [], [], [], [], Describe(blocked.Strum, blocked.StrumLoad)),
        _ => throw new InvalidOperationException("A rung is playable or blocked."),
    };

    private static RungItem Describe(PlayableRung rung, VersionFit fit) => new(
        rung.Number, rung.Limits.Name, rung.Capo, true, null, Math.Round(rung.Load, 1), Percent(rung.Closeness),
        Percent(fit.Value),
        fit.ComfortableTempo, FitWords.Say(fit.Verdict), FitWords.Say(fit.Reason, NoteNames.AsKey), rung.SameAsBelow,
        [.. rung.Played.Where(c => c.IsNew).Select(c => c.Sounding.Name)],
        [.. rung.Chords.OfType<LeftOutChord>().Select(c => c.Sounding.Name)],
        [.. rung.Played.Select(Describe)],
        [.. fit.Changes.Select(c => new ChangeItem(
            rung.Flow.Chords[c.From].Name, rung.Flow.Chords[c.To].Name, c.Count, Math.Round(c.NeededSeconds, 2),
            Math.Round(c.AvailableSeconds, 2), Math.Round(c.InTime, 3)))],
        Describe(rung.Strum, rung.StrumLoad));

    internal static ChordItem Describe(PlayedChord c) => new(
        c.Sounding.Name, c.ShapeChord.Name, Requests.FromShape(c.Choice.Fingering.Shape),
        [.. c.Choice.Fingering.Fingers.Select(f => (int)f)],
        Math.Round(c.Choice.Load, 1), Percent(c.Choice.Closeness.Value), SubstitutionWords.Name(c.Choice, c.ShapeChord),
        SubstitutionWords.Say(c, NoteNames.AsKey), c.Before?.Name);

    private static StrumItem Describe(StrumPattern strum, double load) =>
        new(StrumWords.Name(strum), strum.Notation, strum.Count, Math.Round(load, 1));

    internal static double Percent(double share) => Math.Round(100 * share, 1);
}
