using Tembri.Core;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Roads;
using Tembri.Core.Students;
using Tembri.Web.Ladders;
using Tembri.Web.Words;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/road</c>: which songs next, on which rung, and why.</summary>
internal static class RoadCall
{
    private const int MostSongs = 500;

    public sealed record SongItem(string? Id, string? Chart, bool? Wished);

    public sealed record GoalItem(string? Technique, double? Level, string? Song, int? Rung);

    public sealed record Request(LadderCall.StudentItem? Student, IReadOnlyList<SongItem?>? Songs, GoalItem? Goal, int? Steps,
        int? MaxCapo);

    public sealed record StepItem(string Song, int Rung, int Capo, IReadOnlyList<string> Adds, IReadOnlyList<string> Repeats,
        double Added, double Price, string Why);

    public sealed record Answer(IReadOnlyList<StepItem> Path, double Price, double Gap, string End, string Message);

    public static Answer Handle(Request request, WorkLimits work, LadderShelf ladders)
    {
        if (request.Songs is not { Count: > 0 } songs)
            throw new ApiProblem("songs", "Give at least one song: an id and its chart.");
        if (songs.Count > MostSongs)
            throw new ApiProblem("songs", $"A library has at most {MostSongs} songs here; this one has {songs.Count}.");
        if (request.Steps is not (null or (>= 1 and <= RoadRequest.MostSteps)))
            throw new ApiProblem("steps", $"A road has 1 to {RoadRequest.MostSteps} steps.");
        var player = LadderCall.ToPlayer(request.Student);
        var goal = ToGoal(request.Goal);
        var highest = Requests.ToCapo(request.MaxCapo ?? ArrangementRequest.DefaultHighestCapo, "maxCapo");
        var versions = new List<RoadVersion>();
        var capos = new Dictionary<string, int>();
        for (var i = 0; i < songs.Count; i++)
        {
            if (songs[i] is not { } song) throw new ApiProblem($"songs[{i}]", "This song is missing.");
            if (string.IsNullOrWhiteSpace(song.Id))
                throw new ApiProblem($"songs[{i}].id", "Give every song an id, so that the answer can name it.");
            if (capos.ContainsKey(song.Id)) throw new ApiProblem($"songs[{i}].id", $"The id '{song.Id}' is there twice.");
            var ladder = Arranged(song, i, player, highest, work, ladders);
            capos[song.Id] = ladder.Capo;
            versions.AddRange(
                ladder.Playable.Where(r => !r.SameAsBelow || goal is VersionGoal g && g.Song == song.Id && g.Rung == r.Number)
                .Select(r => new RoadVersion(song.Id, r.Number, VersionOutline.Of(r, ladder.Chart.Tempo), song.Wished == true)));
        }
        if (goal is VersionGoal wanted && !versions.Any(v => v.Song == wanted.Song && v.Rung == wanted.Rung))
            throw new ApiProblem("goal",
                capos.ContainsKey(wanted.Song)
                    ? $"Rung {wanted.Rung} of '{wanted.Song}' cannot be played by this student at capo {capos[wanted.Song]}; "
                        + "choose another rung."
                    : $"There is no song '{wanted.Song}' among 'songs'.");
        var steps = request.Steps ?? 5;
        var road = RoadFinder.Find(
            new RoadMap(new RoadRequest { Player = player, Versions = versions, Goal = goal, Steps = steps }, work.Cancel),
            work.Cancel);
        return new Answer(
            [.. road.Steps.Select((s, i) => Describe(s, capos[s.Version.Song], goal, i == road.Steps.Count - 1))],
            Math.Round(road.Price, 4), Math.Round(road.Gap, 4),
            System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName(road.End.ToString()), RoadWords.End(road, steps));
    }

    private static Ladder Arranged(SongItem song, int at, Player player, int highest, WorkLimits work, LadderShelf ladders)
    {
        try
        {
            var reading = ChartFormats.Read(song.Chart, null, "format", work.Cancel);
            if (LadderBuilder.Objection(reading.Chart.Chords.Count) is { } objection) throw new ApiProblem("chart", objection);
            return ladders.Get($" {song.Chart}",
                new ArrangementRequest { Chart = reading.Chart, Kind = player.Kind, HighestCapo = highest }, work);
        }
        catch (ApiProblem e) { throw new ApiProblem($"songs[{at}].{e.Field}", e.Message); }
    }

    private static RoadGoal? ToGoal(GoalItem? goal) => goal switch
    {
        null => null,
        { Technique: { } name } => goal.Level is >= 0 and <= 100 and { } level
            ? new TechniqueGoal(Requests.ToChoice(name, Technique.Fingers, "goal.technique"), level)
            : throw new ApiProblem("goal.level", "A level is a number from 0 to 100."),
        { Song: { } song } => goal.Rung is >= 1 and <= 5 and { } rung
            ? new VersionGoal(song, rung)
            : throw new ApiProblem("goal.rung", "A rung is 1 to 5."),
        _ => throw new ApiProblem("goal",
            "A goal is a technique with a level, or a song with a rung; null asks what comes next."),
    };

    private static StepItem Describe(RoadStep step, int capo, RoadGoal? goal, bool isLast) => new(
        step.Version.Song, step.Version.Rung, capo,
        [.. step.Adds.Select(a => RoadWords.Say(a.Thing, step.Version.Outline, NoteNames.AsKey))],
        [.. step.Repeats.Select(s => RoadWords.NameOf(s, step.Version.Outline, NoteNames.AsKey)).Distinct()],
        Math.Round(step.Added, 3), Math.Round(step.Price, 4), RoadWords.Why(step, goal, isLast, NoteNames.AsKey));
}
