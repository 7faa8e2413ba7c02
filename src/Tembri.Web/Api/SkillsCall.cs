using System.Globalization;
using System.Text.Json;
using Tembri.Core;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Music;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Web.Words;

namespace Tembri.Web.Api;

/// <summary><c>POST /api/v1/skills</c>: replays a log of practice and says what it tells of each technique.</summary>
internal static class SkillsCall
{
    public sealed record EntryItem(
        string? At, string? Kind, ChangesCall.Side? From, ChangesCall.Side? To, int? Count, double? Seconds,
        ChangesCall.Side? Shape, int? Tries, JsonElement? Clean,
        string? Pattern, string? Meter, double? Tempo, int? Swing, int? Capo, string? Guitar);

    public sealed record Request(LadderCall.StudentItem? Student, IReadOnlyList<EntryItem>? Entries, string? Until);

    public sealed record SkillItem(double Mean, double Deviation, double Low, double High);

    public sealed record MoveItem(string Technique, double From, double To);

    public sealed record StepItem(int Entry, double Expected, IReadOnlyList<MoveItem> Changed, string Why);

    public sealed record Answer(IReadOnlyDictionary<string, SkillItem> Skills, IReadOnlyList<StepItem> Steps);

    private const int Strings = 6;

    public static Answer Handle(Request request, WorkLimits work)
    {
        var entries =
            request.Entries ?? throw new ApiProblem("entries", "The entries are missing; give a list, which may be empty.");
        Requests.CheckBatch(entries.Count, "entries");
        var player = LadderCall.ToPlayer(request.Student);
        // A thumb in a log was played, whatever the student does in songs.
        var maker = new EvidenceMaker(player.Hand, thumb: true);
        var read = new List<(Evidence Evidence, string What)>();
        for (var i = 0; i < entries.Count; i++)
        {
            work.Cancel.ThrowIfCancellationRequested();
            read.Add(Read(entries[i] ?? throw new ApiProblem($"entries[{i}]", "This entry is missing."), $"entries[{i}]", player,
                maker));
        }
        var until = request.Until is null ? (DateTimeOffset?)null : Time(request.Until, "until");
        var history = SkillLearning.Replay(player.Skills, [.. read.Select(r => r.Evidence)], until);
        return new Answer(
            Enum.GetValues<Technique>().ToDictionary(Name, t => new SkillItem(
                Math.Round(history.Belief.Mean(t), 2), Math.Round(history.Belief.Deviation(t), 2),
                Math.Round(history.Belief.Range(t).Low, 2), Math.Round(history.Belief.Range(t).High, 2))),
            [.. history.Steps.Select(s => new StepItem(
                s.Index, Math.Round(s.Expected, 2),
                [.. s.Moves.Select(m => new MoveItem(Name(m.Technique), Math.Round(m.From, 2), Math.Round(m.To, 2)))],
                PracticeWords.Why(read[s.Index].What, s)))]);
    }

    private static string Name(Technique technique) => JsonNamingPolicy.CamelCase.ConvertName(technique.ToString());

    private static (Evidence, string) Read(EntryItem entry, string field, Player player, EvidenceMaker maker)
    {
        var at = Time(entry.At, $"{field}.at");
        var guitar = entry.Guitar is null ? player.Guitar : Requests.ToGuitar(entry.Guitar, $"{field}.guitar");
        var capo = Requests.ToCapo(entry.Capo, $"{field}.capo");
        return entry.Kind switch
        {
            "change" => ReadCount(entry, field, at, guitar, capo, maker),
            "shape" => ReadTries(entry, field, at, guitar, capo, maker),
            "strum" => ReadStrum(entry, field, at),
            _ => throw new ApiProblem($"{field}.kind",
                entry.Kind is null
                    ? "The kind is missing; use change, shape, strum."
                    : $"'{entry.Kind}' is no kind of entry; use change, shape, strum."),
        };
    }

    private static (Evidence, string) ReadCount(EntryItem entry, string field, DateTimeOffset at, Guitar guitar, int capo,
        EvidenceMaker maker)
    {
        var (from, to) =
            (Side(entry.From, $"{field}.from", guitar, capo, maker), Side(entry.To, $"{field}.to", guitar, capo, maker));
        if (entry.Seconds is not (>= 1 and <= EvidenceMaker.LongestCount))
            throw new ApiProblem($"{field}.seconds", $"Seconds are 1 to {EvidenceMaker.LongestCount}.");
        if (entry.Count is not >= 0) throw new ApiProblem($"{field}.count", "A count is a whole number, 0 or more.");
        if (entry.Count * 60 > EvidenceMaker.MostAMinute * entry.Seconds)
            throw new ApiProblem($"{field}.count",
                $"{entry.Count} changes in {entry.Seconds} s cannot be: nobody does more than {EvidenceMaker.MostAMinute} a "
                    + "minute. Check the number.");
        var reference = maker.SecondsFor(guitar, capo, from, to) ?? 0;
        if (reference <= 0)
            throw new ApiProblem($"{field}.to", "Nothing moves between these two shapes, so a count of changes tells nothing.");
        return (new ChangeCount(at, reference, entry.Count.Value, entry.Seconds.Value, (from.Shape, to.Shape)),
            $"{entry.Count} clean {PracticeWords.NameOf(from.Shape)} to {PracticeWords.NameOf(to.Shape)}");
    }

    private static (Evidence, string) ReadTries(EntryItem entry, string field, DateTimeOffset at, Guitar guitar, int capo,
        EvidenceMaker maker)
    {
        var (shape, fingers) = Side(entry.Shape, $"{field}.shape", guitar, capo, maker);
        if (entry.Tries is not (>= 1 and <= EvidenceMaker.MostTries))
            throw new ApiProblem($"{field}.tries", $"Tries are 1 to {EvidenceMaker.MostTries}.");
        if (entry.Clean is not { ValueKind: JsonValueKind.Number } number || !number.TryGetInt32(out var clean) || clean < 0
            || clean > entry.Tries)
            throw new ApiProblem($"{field}.clean",
                "'clean' is how many of the tries were clean: a whole number from 0 to the tries.");
        return (maker.Tries(at, guitar, capo, shape, fingers, entry.Tries.Value, clean)!,
            $"{clean} of {entry.Tries} tries of {PracticeWords.NameOf(shape)} clean");
    }

    private static (Evidence, string) ReadStrum(EntryItem entry, string field, DateTimeOffset at)
    {
        var pattern = StrumsCall.ToPattern(entry.Pattern, entry.Meter, entry.Swing, $"{field}.");
        var tempo = StrumsCall.ToTempo(
            entry.Tempo ?? throw new ApiProblem($"{field}.tempo", "The tempo is missing, beats a minute."), $"{field}.tempo");
        if (entry.Clean is not { ValueKind: JsonValueKind.True or JsonValueKind.False } clean)
            throw new ApiProblem($"{field}.clean", "'clean' is true or false: whether the pattern went.");
        var went = clean.ValueKind == JsonValueKind.True;
        return (EvidenceMaker.Strum(at, pattern, tempo, went),
            string.Create(CultureInfo.InvariantCulture,
                $"{StrumWords.Name(pattern)} at {tempo:0.#} {(went ? "went" : "broke off")}"));
    }

    private static (Shape Shape, IReadOnlyList<Finger>? Fingers) Side(ChangesCall.Side? side, string field, Guitar guitar,
        int capo, EvidenceMaker maker)
    {
        var shape = Requests.ToShape(side?.Frets, $"{field}.frets", Strings);
        var fingers = Requests.ToFingers(side?.Fingers, $"{field}.fingers", Strings);
        if (maker.Fingerings(guitar, capo, shape, fingers).Count > 0) return (shape, fingers);
        throw fingers is null ? new ApiProblem($"{field}.frets", "No hand of this size can do this shape.")
            : new ApiProblem($"{field}.fingers",
                "These fingers cannot stop this shape: each stopped string needs a finger, in order "
                    + "along the neck and within reach.");
    }

    private static DateTimeOffset Time(string? text, string field) =>
        DateTimeOffset.TryParse(text, CultureInfo.InvariantCulture,
                DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal, out var time)
            && time.Year is >= 1970 and <= 2200
            ? time
            : throw new ApiProblem(field,
                text is null
                    ? "The time is missing; write it such as 2026-01-05T15:00:00Z."
                    : $"'{text}' is no time; write it such as 2026-01-05T15:00:00Z.");
}
