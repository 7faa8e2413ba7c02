using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Data.Students;

namespace Tembri.Web.Practice;

/// <summary>A shape as a page sends it.</summary>
public sealed record EntryShape(int[]? Frets, int[]? Fingers);

/// <summary>An entry of the log as a page, a phone or a table sends it, before anything of it is believed.</summary>
public sealed record NewEntry
{
    /// <summary>Names it, so that the same one sent twice counts once.</summary>
    public Guid? Key { get; init; }

    public DateTimeOffset? At { get; init; }
    public string? Kind { get; init; }
    public Guid? Song { get; init; }
    public int? Rung { get; init; }
    public string? Text { get; init; }
    public int? Tempo { get; init; }
    public EntryShape? From { get; init; }
    public EntryShape? To { get; init; }
    public int? Count { get; init; }
    public int? Seconds { get; init; }
    public int? Tries { get; init; }
    public bool? Went { get; init; }
    public double? FreeBeats { get; init; }
    public string? Pattern { get; init; }
    public string? Meter { get; init; }
    public int? Swing { get; init; }
    public int? Capo { get; init; }
    public int? Minutes { get; init; }
    public int? Felt { get; init; }
    public bool? Hurt { get; init; }
    public string? Guitar { get; init; }
}

/// <summary>Makes a row of what was sent, or says what to mend.</summary>
internal static class EntryCheck
{
    private const int LowestTempo = 20, HighestTempo = 320, MostRung = 99;
    private static readonly TimeSpan Ahead = TimeSpan.FromMinutes(10);   // clocks differ
    private static readonly TimeSpan Oldest = TimeSpan.FromDays(3660);

    /// <summary>Checks an entry.</summary>
    /// <param name="sent">What was sent.</param>
    /// <param name="now">The time.</param>
    /// <param name="fault">What is wrong and what to do; null when nothing is.</param>
    public static PracticeEntry? Make(NewEntry sent, DateTimeOffset now, out string? fault)
    {
        fault = Fault(sent, now, out var kind, out var from, out var to);
        if (fault is not null) return null;
        return new PracticeEntry
        {
            At = Stored((sent.At ?? now).ToUniversalTime()), Kind = kind, SongId = sent.Song, Rung = sent.Rung ?? 0,
            Text = PlainText.OneLine(sent.Text ?? ""), Tempo = sent.Tempo, Capo = sent.Capo ?? 0,
            FromFrets = from is null ? null : [.. from.Frets], ToFrets = to is null ? null : [.. to.Frets],
            FromFingers = from is null ? null : Fingers(sent.From), ToFingers = to is null ? null : Fingers(sent.To),
            Count = kind is PracticeKind.Changes or PracticeKind.Shape ? sent.Count : null,
            Seconds = kind == PracticeKind.Changes ? sent.Seconds : null, Tries = kind == PracticeKind.Shape ? sent.Tries : null,
            Went = kind is PracticeKind.Clean or PracticeKind.Strum ? sent.Went ?? true : null,
            FreeBeats = kind == PracticeKind.Clean ? sent.FreeBeats : null,
            Pattern = kind == PracticeKind.Strum ? sent.Pattern : null, Meter = kind == PracticeKind.Strum ? sent.Meter : null,
            Swing = kind == PracticeKind.Strum ? sent.Swing : null,
            Minutes = sent.Minutes, Felt = sent.Felt, Hurt = sent.Hurt ?? false,
            Guitar = string.IsNullOrWhiteSpace(sent.Guitar) ? null : sent.Guitar.Trim(), RequestKey = sent.Key,
        };
    }

    /// <summary>A time as the database keeps it, in whole microseconds: what is learnt before it is stored and after is the
    /// same.</summary>
    private static DateTimeOffset Stored(DateTimeOffset at) => at.AddTicks(-(at.Ticks % TimeSpan.TicksPerMicrosecond));

    private static string? Fault(NewEntry sent, DateTimeOffset now, out PracticeKind kind, out Shape? from, out Shape? to)
    {
        (from, to) = (ShapeOf(sent.From), ShapeOf(sent.To));
        if (!TryKind(sent.Kind, out kind))
            return "Say what it is: a note, changes, a shape, a strum, a stretch that was played, or the time.";
        if (sent.At > now + Ahead) return $"The day lies ahead ({sent.At:d MMM yyyy}); set it to today or earlier.";
        if (sent.At < now - Oldest) return $"The day lies more than ten years back ({sent.At:d MMM yyyy}); check the year.";
        if (sent.Rung is < 0 or > MostRung) return "There is no such rung.";
        if (sent.Capo is < 0 or > NeckGeometry.HighestCapo) return $"A capo is 0 to {NeckGeometry.HighestCapo}.";
        if (sent.Tempo is < LowestTempo or > HighestTempo) return $"A tempo is {LowestTempo} to {HighestTempo} a minute.";
        if (sent.Minutes is < 0 or > PracticeEntry.MostMinutes)
            return $"Minutes are 0 to {PracticeEntry.MostMinutes}; write a longer day as two entries.";
        if (sent.Felt is < 1 or > PracticeEntry.MostFelt) return $"How hard it felt is 1 to {PracticeEntry.MostFelt}.";
        if (PlainText.OneLine(sent.Text ?? "").Length > PracticeEntry.LongestText)
            return $"Write at most {PracticeEntry.LongestText} letters.";
        if (sent.FreeBeats is not null and not (> 0 and <= 100))
            return "The beats there are for a change are above 0, and at most 100.";
        if (sent.Guitar is { Length: > 0 } guitar && GuitarOf(guitar) is null)
            return "That is no guitar Tembri knows; leave it out for the student's own.";
        return kind switch
        {
            PracticeKind.Note when PlainText.OneLine(sent.Text ?? "").Length == 0
                && sent is { Minutes: null, Felt: null, Hurt: not true } =>
                $"Write a note of 1 to {PracticeEntry.LongestText} letters.",
            PracticeKind.Changes => FaultOfCount(sent, from, to),
            PracticeKind.Shape when to is null => "Tries need the shape: a fret for each string.",
            PracticeKind.Shape when sent.Tries is not (>= 1 and <= EvidenceMaker.MostTries) || sent.Count is not >= 0
                || sent.Count > sent.Tries =>
                $"Tries are 1 to {EvidenceMaker.MostTries}, and at most so many of them clean.",
            PracticeKind.Strum when sent.Tempo is null => "A strum needs its tempo.",
            PracticeKind.Strum when PatternOf(sent.Pattern, sent.Meter, sent.Swing) is null =>
                "That pattern cannot be read; write a letter a step, such as D-du-udu, and its meter.",
            PracticeKind.Time when sent is { Minutes: null, Felt: null, Hurt: not true } =>
                "Say how many minutes it were, how hard it felt, or whether something hurt.",
            _ => null,
        };
    }

    private static string? FaultOfCount(NewEntry sent, Shape? from, Shape? to)
    {
        if (from is null || to is null || sent.Count is null || sent.Seconds is null)
            return "A count needs the two shapes, how many changes, and in how many seconds.";
        if (sent.Seconds is < EvidenceMaker.ShortestCount or > EvidenceMaker.LongestCount)
            return $"Count for {EvidenceMaker.ShortestCount} to {EvidenceMaker.LongestCount} seconds.";
        if (sent.Count < 0) return "A count is 0 or more.";
        return sent.Count * 60 > EvidenceMaker.MostAMinute * sent.Seconds
            ? $"{sent.Count} changes in {sent.Seconds} seconds cannot be: nobody does more than {EvidenceMaker.MostAMinute} a "
                + "minute. Check the number."
            : null;
    }

    private static bool TryKind(string? text, out PracticeKind kind) =>
        Enum.TryParse(text, ignoreCase: true, out kind) && Enum.IsDefined(kind) && !char.IsAsciiDigit(text![0]);

    private static Shape? ShapeOf(EntryShape? sent) =>
        sent?.Frets is { Length: 6 } frets && frets.All(f => f is >= Shape.LeftOut and <= Shape.HighestFret)
                && frets.Any(f => f >= 0)
            ? new Shape(frets)
            : null;

    private static int[]? Fingers(EntryShape? sent) =>
        sent?.Fingers is { Length: 6 } fingers && fingers.All(f => f is >= 0 and <= 5) ? fingers : null;

    /// <summary>The guitar an entry names; null when it names none that is known.</summary>
    public static Guitar? GuitarOf(string? text) =>
        string.IsNullOrEmpty(text) || text.Length > PracticeEntry.LongestGuitar ? null
        : GuitarMeasures.FromJson(text.StartsWith('{') ? text : "")?.ToGuitar()
            ?? Guitar.Presets.FirstOrDefault(g => g.Id.Equals(text, StringComparison.OrdinalIgnoreCase));

    /// <summary>A pattern as an entry keeps it; null when it cannot be read.</summary>
    public static StrumPattern? PatternOf(string? letters, string? written, int? swing)
    {
        var meter = Meter.Common;
        if (written?.Length > PracticeEntry.LongestMeter) return null;
        if (written is not null && !Meter.TryParse(written, out meter)) return null;
        if (swing is < StrumPattern.Straight or > StrumPattern.MostSwing) return null;
        return letters is { Length: > 0 and <= PracticeEntry.LongestPattern }
                && StrumPattern.TryParse(letters, meter, out var pattern, out _, swing ?? StrumPattern.Straight)
            ? pattern
            : null;
    }
}
