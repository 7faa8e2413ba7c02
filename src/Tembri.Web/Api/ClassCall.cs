using Tembri.Core;
using Tembri.Core.Classes;
using Tembri.Core.Ladders;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Web.Words;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/class</c>: one key and one tempo for several students, a capo and a rung for each.</summary>
internal static class ClassCall
{
    private const double SlowestTempo = 20, FastestTempo = 320;   // beats a minute, as a chart may have them

    public sealed record PlayerItem(string? Id, LadderCall.StudentItem? Student, IReadOnlyList<int>? Rungs, int? Capo);

    public sealed record Request(string? Chart, string? Format, IReadOnlyList<PlayerItem?>? Students, int? MaxCapo,
        double? Tempo, int? Semitones);

    public sealed record LateItem(string From, string To, double NeededSeconds, double AvailableSeconds);

    public sealed record SectionItem(string Name, double Good, string Advice);

    public sealed record PartItem(
        string Id, int Capo, int Rung, string ShapeKey, double Load, double Fit, string Verdict, string Reason,
        IReadOnlyList<LateItem> Late, string Strum, IReadOnlyList<SectionItem> Sections,
        IReadOnlyList<LadderCall.ChordItem> Chords);

    public sealed record KeyItem(string Key, int Semitones, double? WorstFit, double Sum);

    public sealed record Answer(string Title, string Key, int Semitones, double Tempo, double RecordTempo, double WorstFit,
        IReadOnlyList<PartItem> Players, IReadOnlyList<KeyItem> Keys);

    public static Answer Handle(Request request, WorkLimits work, LadderBuilder builder)
    {
        var reading = ChartFormats.Read(request.Chart, request.Format, "format", work.Cancel);
        if (LadderBuilder.Objection(reading.Chart.Chords.Count) is { } objection) throw new ApiProblem("chart", objection);
        if (request.Tempo is { } tempo && tempo is not (>= SlowestTempo and <= FastestTempo))
            throw new ApiProblem("tempo",
                $"A tempo is {SlowestTempo} to {FastestTempo} beats a minute; null lets Tembri choose it.");
        if (request.Semitones is not (null or (>= -VoiceWish.Farthest and <= VoiceWish.Farthest)))
            throw new ApiProblem("semitones",
                $"A song is moved by -{VoiceWish.Farthest} to {VoiceWish.Farthest} semitones; null leaves the key open.");
        var asked = new ClassRequest
        {
            Chart = reading.Chart, Players = ToPlayers(request.Students), Tempo = request.Tempo, Semitones = request.Semitones,
            HighestCapo = Requests.ToCapo(request.MaxCapo ?? ArrangementRequest.DefaultHighestCapo, "maxCapo"),
        };
        try { return Describe(new ClassArranger(builder).Arrange(asked, work)); }
        catch (ClassBlockedException e)
        {
            throw new ApiProblem($"students[{asked.Players.ToList().FindIndex(p => p.Id == e.Player)}].rungs",
                $"'{e.Player}' can play none of these rungs in a key the others can play in; allow "
                    + "more rungs or a higher maxCapo.");
        }
    }

    private static List<ClassPlayer> ToPlayers(IReadOnlyList<PlayerItem?>? students)
    {
        if (students is not { Count: > 0 })
            throw new ApiProblem("students", "Give at least one student: an id, the student, and the rungs that may be played.");
        if (students.Count > ClassRequest.MostPlayers)
            throw new ApiProblem("students",
                $"A class has at most {ClassRequest.MostPlayers} students; this one has {students.Count}.");
        var players = new List<ClassPlayer>();
        for (var i = 0; i < students.Count; i++)
        {
            var field = $"students[{i}]";
            if (students[i] is not { } student) throw new ApiProblem(field, "This student is missing.");
            if (string.IsNullOrWhiteSpace(student.Id))
                throw new ApiProblem($"{field}.id", "Give every student an id, so that the answer can be told apart.");
            if (players.Any(p => p.Id == student.Id))
                throw new ApiProblem($"{field}.id", $"The id '{student.Id}' is there twice.");
            if (student.Rungs is { Count: 0 })
                throw new ApiProblem($"{field}.rungs", "Give at least one rung, or leave 'rungs' out for all.");
            if (student.Rungs?.Where(r => r is < 1 or > 5).Select(r => (int?)r).FirstOrDefault() is { } wrong)
                throw new ApiProblem($"{field}.rungs", $"Rung {wrong} is out of range; use 1 to 5.");
            players.Add(new ClassPlayer(student.Id, LadderCall.ToPlayer(student.Student, $"{field}.student"),
                student.Rungs ?? [1, 2, 3, 4, 5])
            {
                Capo = student.Capo is null ? null : Requests.ToCapo(student.Capo, $"{field}.capo")
            });
        }
        return players;
    }

    private static Answer Describe(ClassSheet sheet) => new(
        sheet.Chart.Title, sheet.Chart.Key.ToString(), sheet.Semitones, sheet.Tempo, sheet.RecordTempo,
        LadderCall.Percent(sheet.WorstFit), [.. sheet.Parts.Select(p => Describe(p, sheet))],
        [.. sheet.Keys.Select(k => new KeyItem(k.Key.ToString(), k.Semitones,
            k.Worst is { } worst ? LadderCall.Percent(worst) : null, LadderCall.Percent(k.Sum)))]);

    private static PartItem Describe(ClassPart part, ClassSheet sheet) => new(
        part.Id, part.Rung.Capo, part.Rung.Number, part.ShapeKey.ToString(), Math.Round(part.Rung.Load, 1),
        LadderCall.Percent(part.Fit.Value), FitWords.Say(part.Fit.Verdict),
        FitWords.Say(part.Fit.Reason, Core.Music.NoteNames.AsKey),
        [.. part.Late.Select(c => new LateItem(part.Rung.Flow.Chords[c.From].Name, part.Rung.Flow.Chords[c.To].Name,
            Math.Round(c.NeededSeconds, 2), Math.Round(c.AvailableSeconds, 2)))],
        StrumWords.Name(part.Rung.Strum),
        [.. part.Sections.Select(s => new SectionItem(sheet.Chart.Sections[s.Section].Name, LadderCall.Percent(s.Good),
            System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(s.Advice.ToString())))],
        [.. part.Rung.Played.Select(LadderCall.Describe)]);
}
