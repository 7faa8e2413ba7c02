using System.Globalization;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Planning;

namespace Tembri.Web.Words;

/// <summary>Says what a plan has to be done, and why.</summary>
internal static class PlanWords
{
    /// <summary>What hurts, said to anybody: never a diagnosis.</summary>
    public const string Caution =
        "Stop if it hurts, tingles or goes numb: put the guitar down, shake the hand out, and tell your teacher. If it stays, "
            + "see a doctor or a licensed therapist.";

    /// <summary>The same to a child.</summary>
    public const string ChildCaution =
        "Stop if it hurts, tingles or goes numb. Shake the hand out, and tell your teacher and a grown-up at home. If it stays, "
            + "see a doctor.";

    /// <summary>A break.</summary>
    public static string Break { get; } = $"a break: put the guitar down for {PlanWeights.Default.BreakMinutes} minutes";

    /// <summary>An item in a line of plain text.</summary>
    public static string Title(PlanItem item, NoteNames names) => item.Kind switch
    {
        PlanKind.WarmUp => "Warm up",
        PlanKind.Shape => $"{Name(item, item.Chord!.Value, names)} by itself",
        PlanKind.Pair =>
            $"{Name(item, item.Song!.Rung.Changes[item.Change!.Value].From, names)} to "
                + $"{Name(item, item.Song.Rung.Changes[item.Change.Value].To, names)}",
        PlanKind.Strum => $"The strum of {SectionOf(item)}",
        PlanKind.Figure => $"The figure of {SectionOf(item)}",
        PlanKind.Section => SectionOf(item),
        PlanKind.Form => $"{item.Song!.Title}, the whole song",
        _ => item.Text ?? "",
    };

    /// <summary>What to do, in a sentence to the student.</summary>
    public static string Do(PlanItem item) => item.Kind switch
    {
        PlanKind.WarmUp =>
            "Shake both hands loose. Put each finger down and lift it, slowly, on any string. Strum the open strings softly.",
        PlanKind.Shape => "Put it down, listen to each string, lift off. Again.",
        PlanKind.Pair => "Back and forth. Count each change that sounds clean.",
        PlanKind.Strum => "First each piece, then together. Keep the hand swinging.",
        PlanKind.Figure => "First the beginning, then the end, then together.",
        PlanKind.Section => "Play it through, slower if it stumbles.",
        PlanKind.Form => "From beginning to end, without stopping for mistakes.",
        _ => "",
    };

    /// <summary>Why an item is there, in a sentence.</summary>
    public static string Why(PlanItem item) => item.Why switch
    {
        BeginsTheDay => "Cold fingers tire soon.",
        NotCleanYet r => $"It sounds clean about {Percent(r.Clean)} of the time, and fills {Percent(r.Share)} of the song.",
        ComesLate r =>
            $"It needs {Tenths(r.NeededSeconds)} s and has {Tenths(r.AvailableSeconds)} s: in time {Percent(r.InTime)} of the "
                + $"time, {(r.Times == 1 ? "once" : $"{r.Times} times")} in the song.",
        ComesBack r =>
            "Learnt before; it comes back "
                + $"{(r.AfterDays == 1 ? "after a day" : $"after {r.AfterDays} days")}, so that it stays.",
        BreaksOff r when item.Kind == PlanKind.Figure => $"It goes through about {Percent(r.Chance)} of the time.",
        BreaksOff r =>
            $"At the song's tempo it goes through about {Percent(r.Chance)} of the "
                + $"time{(r.Pieces > 1 ? $"; it comes apart into {r.Pieces} pieces" : "")}.",
        PutTogether r => $"Its shapes are there; about {Percent(r.Good)} of it goes well now.",
        TowardTheRecord { Comfortable: { } easy } r when easy < r.Record =>
            $"Nine of ten changes are in time up to {Whole(easy)}; the record has {Whole(r.Record)}.",
        TowardTheRecord r when r.Comfortable is null => "Slowly: the changes need more time than there is yet.",
        TowardTheRecord => "All of it together keeps it.",
        TeacherWants => "Your teacher put it here.",
        _ => "",
    };

    private static string SectionOf(PlanItem item) => item.Song!.Rung.Song.Chart.Sections[item.Section!.Value].Name;

    private static string Name(PlanItem item, int chord, NoteNames names) =>
        item.Song!.Rung.Chords[chord].ShapeChord.Named(names).Name;

    private static string Percent(double share) => share.ToString("0 %", CultureInfo.InvariantCulture);

    private static string Whole(double value) => value.ToString("0", CultureInfo.InvariantCulture);

    private static string Tenths(double value) => value.ToString("0.0", CultureInfo.InvariantCulture);
}

/// <summary>Says what is advised about a rung.</summary>
internal static class StepWords
{
    /// <summary>The advice in one line, to the teacher.</summary>
    public static string Say(StepAdvice advice, PlayableRung rung, NoteNames names) => advice.Reason switch
    {
        StepReason.NothingYet => $"nothing practised on rung {rung.Limits.Label} yet",
        StepReason.NotPlayedYet =>
            $"rung {rung.Limits.Label} should go by the skills; let a section be played through near the song's tempo",
        StepReason.Ready => $"rung {rung.Limits.Label} is ready; rung {advice.To!.Limits.Label} adds {Adds(advice, names)}",
        StepReason.Top => $"rung {rung.Limits.Label} is ready, and it is the top",
        StepReason.NextHasBarres => $"rung {rung.Limits.Label} is ready; what comes next has barres, so it stays",
        StepReason.NotYetWithSinging => $"rung {rung.Limits.Label} is ready, but with no room to sing yet",
        StepReason.NextIsMuch =>
            $"rung {rung.Limits.Label} is ready; the next one would be much yet, so use the time to play this one well, or take "
                + "up another song",
        StepReason.Growing => $"rung {rung.Limits.Label} grows",
        StepReason.TooMuch =>
            $"rung {rung.Limits.Label} is much for now; rung {advice.To!.Limits.Label} plays the same song more easily",
        StepReason.HasBarres => $"something hurts: rung {advice.To!.Limits.Label} plays the song without barres",
        _ => throw new ArgumentOutOfRangeException(nameof(advice), advice.Reason, "There are no words for this."),
    };

    private static string Adds(StepAdvice advice, NoteNames names)
    {
        if (advice.NewShapes.Count == 0) return "another strum";
        var (full, small) = advice.Barres;
        var barres = full > 0 ? $", {Count(full, "full barre")}" : small > 0 ? $", {Count(small, "short barre")}" : "";
        return $"{Lists.And(advice.NewShapes.Select(c => advice.To!.Chords[c].ShapeChord.Named(names).Name).Distinct())}{barres}";
    }

    private static string Count(int count, string thing) => count == 1 ? $"one {thing}" : $"{count} {thing}s";
}
