using System.Globalization;
using System.Text.Json;
using Tembri.Core.Charts;
using Tembri.Core.Checking;
using Tembri.Core.Hearing;
using Tembri.Core.Music;
using Tembri.Web.Drawings;
using Tembri.Web.Words;

namespace Tembri.Web.Recordings;

/// <summary>A written chord as it was heard, by the names of the chart.</summary>
/// <param name="Section">Its section.</param>
/// <param name="Bar">Its bar, from 0.</param>
/// <param name="Slot">Its place in the bar, from 0.</param>
/// <param name="Written">The chord that was written.</param>
/// <param name="Heard">The chord that is heard.</param>
/// <param name="Agrees">True when nothing else is heard for certain.</param>
/// <param name="Certainty">0 to 1.</param>
/// <param name="Notes">Strength of the pitch classes from C, the strongest 1.</param>
/// <param name="Times">When it is played, and what is heard each time alone.</param>
internal sealed record HeardSlot(string Section, int Bar, int Slot, string Written, string Heard, bool Agrees, double Certainty,
    IReadOnlyList<double> Notes, IReadOnlyList<HeardTime> Times)
{
    /// <summary>Strength of the pitch classes from sixteenth to sixteenth of the bar, the strongest 1; empty where the record
    /// agrees, and in what was kept before this was looked at.</summary>
    public IReadOnlyList<IReadOnlyList<double>> Course { get; init; } = [];

    /// <summary>Beats of the bar before the chord, with it, and in all.</summary>
    public (double From, double To, double Beats) PlaceIn(Bar bar)
    {
        var from = bar.Slots.Take(Slot).Sum(s => s.Beats);
        return (from, from + (bar.Slots.ElementAtOrDefault(Slot)?.Beats ?? bar.Beats), bar.Beats);
    }
}

/// <summary>One time a chord is played.</summary>
internal sealed record HeardTime(double Start, double End, string Heard, bool Agrees);

/// <summary>A bar that is played.</summary>
internal sealed record HeardBarTime(string Section, int Bar, int Pass, double Start, double End);

/// <summary>A difference of the form.</summary>
internal sealed record HeardForm(bool More, string Section, int Bars, double At);

/// <summary>What a recording told of a song, as it is kept: times and findings.</summary>
internal sealed record HeardSong(
    double Cents, int Semitones, double Tempo, double Slowest, double Fastest, bool Matches, double Agreement, double Seconds,
    IReadOnlyList<HeardBarTime> Bars, IReadOnlyList<HeardSlot> Places, IReadOnlyList<HeardForm> Form)
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);
    private const double OneTempo = 0.015;     // less drift is none
    private const double InTune = 8;           // cents

    /// <summary>Takes what was heard over for keeping.</summary>
    public static HeardSong Of(HearingResult heard, Chart chart) => new(
        Math.Round(heard.Cents, 1), heard.Semitones, Math.Round(heard.Tempo, 2), Math.Round(heard.Drift.Slowest, 4),
        Math.Round(heard.Drift.Fastest, 4), heard.Matches, Math.Round(heard.Agreement, 3), Math.Round(heard.Seconds, 1),
        [.. heard.Bars.Select(
            b => new HeardBarTime(chart.Sections[b.Section].Name, b.Bar, b.Pass, Math.Round(b.Start, 3), Math.Round(b.End, 3)))],
        [.. heard.Places.Select(p => new HeardSlot(
            chart.Sections[p.Section].Name, p.Bar, p.Slot, chart.Sections[p.Section].Bars[p.Bar].Slots[p.Slot].Symbol,
            p.Heard.Name, p.Agrees && p.Written is not null, Math.Round(p.Certainty, 3), p.Notes,
            [.. p.Passes.Select(t => new HeardTime(Math.Round(t.Start, 3), Math.Round(t.End, 3), t.Heard.Name, t.Agrees))])
            {
                Course = p.Course
            })],
        [.. heard.FormChanges.Select(
            c => new HeardForm(c.Kind == FormChangeKind.More, chart.Sections[c.Section].Name, c.Bars, Math.Round(c.At, 2)))]);

    public string Write() => JsonSerializer.Serialize(this, Json);

    /// <summary>Reads what was kept; null when it is of a form that is not known any more, or came so with an archive.</summary>
    public static HeardSong? Read(string? json)
    {
        try
        {
            return string.IsNullOrEmpty(json) ? null
                : JsonSerializer.Deserialize<HeardSong>(json, Json) is { IsWhole: true } heard ? heard
                : null;
        }
        catch (JsonException) { return null; }
    }

    private bool IsWhole =>
        Bars is not null && Form is not null && Places is not null && Bars.All(b => b?.Section is not null)
            && Form.All(f => f?.Section is not null)
        && Places.All(p => p is { Section: not null, Written: not null, Heard: not null, Times: not null, Notes.Count: 12,
                Course: not null } && p.Times.All(t => t?.Heard is not null) && p.Course.All(c => c is { Count: 12 }));

    /// <summary>The places for whoever looks through a chart for doubts; none when it is another song.</summary>
    public IReadOnlyList<HeardChordPlace> ForChecking(Chart chart, NoteNames names) => !Matches ? []
        : [.. Places.Select(p => new HeardChordPlace(p.Section, p.Bar, p.Slot, p.Written, p.Heard, p.Agrees,
            $"{p.Section}, bar {p.Bar + 1}: {Say(p, chart.Key, names)}"))];

    /// <summary>What is heard at a place, with what speaks for it.</summary>
    public static string Say(HeardSlot place, Key key, NoteNames names)
    {
        var strong = place.Notes.Select((n, p) => (n, p)).Where(x => x.n >= 0.3).OrderByDescending(x => x.n).Take(4)
            .Select(x => NotesDrawing.Name(x.p, key, names)).ToList();
        var times = place.Times.Count(t => t.Agrees);
        var alone = place.Times.Count < 2 ? ""
            : times == place.Times.Count ? $", all {place.Times.Count} times"
            : $", {times} of {place.Times.Count} times taken alone";
        var asked = place.Written == Slot.Unknown
            ? "sounds like"
            : $"the chart has {NoteNaming.Named(place.Written, names)}, the record sounds like";
        return string.Create(CultureInfo.InvariantCulture,
            $"{asked} {NoteNaming.Named(place.Heard, names)} ({Math.Min(99, 100 * place.Certainty):0} % sure{alone}); "
                + $"{Lists.And(strong)} {(strong.Count == 1 ? "is" : "are")} strongest there.");
    }

    /// <summary>What the recording tells as a whole, a sentence each.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="names">How notes are written.</param>
    public IEnumerable<string> Sentences(Chart chart, NoteNames names)
    {
        if (!Matches)
        {
            yield return string.Create(CultureInfo.InvariantCulture,
                $"This does not sound like a recording of this song: however it is laid along the chart, the chords agree for "
                    + $"{100 * Agreement:0} % of the time at most, in another order than written. Is it the right file? Another "
                    + $"version, or a chart with a part missing, can also be the reason.");
            yield break;
        }
        yield return Semitones == 0 ? "It sounds in the chart's key."
            : $"It sounds {Steps(Math.Abs(Semitones))} {(Semitones < 0 ? "lower" : "higher")} than the chart: "
                + $"{(Semitones < 0 ? $"the guitars are tuned down, or the capo sits {Frets(-Semitones)} lower" : $"the capo sits {Frets(Semitones)} higher, or the recording runs fast")}; "
                + $"or move the chart to {NoteNaming.Named(chart.Key.Transpose(Semitones).ToString(), names)}.";
        if (Math.Abs(Cents) > InTune)
            yield return string.Create(CultureInfo.InvariantCulture,
                $"It is tuned {Math.Abs(Cents):0} cents {(Cents < 0 ? "lower" : "higher")} than 440 Hz: tune to the record "
                    + $"before playing along.");
        var drift = Fastest - Slowest > OneTempo
            ? string.Create(CultureInfo.InvariantCulture, $", between {Tempo * Slowest:0} and {Tempo * Fastest:0}")
            : ", steadily";
        yield return string.Create(CultureInfo.InvariantCulture,
            $"It goes at {Tempo:0.0} a "
                + $"minute{drift}{(Math.Abs(Tempo / chart.Tempo - 1) > 0.02 ? $"; the chart says {chart.Tempo:0.#}" : "")}.");
        foreach (var change in Form.Where(f => f.Bars > 0))
            yield return $"At {Clock(change.At)} {change.Section} is "
                + $"{(change.More ? $"played {BarsSaid(change.Bars)} more than" : $"{BarsSaid(change.Bars)} shorter than")} "
                + "written.";
        var wrong = Places.Count(p => !p.Agrees);
        yield return wrong == 0
            ? "All chords of the chart agree with it, as far as can be heard."
            : $"{(wrong == 1 ? "One chord does" : $"{wrong} chords do")} not agree with it.";
    }

    /// <summary>A moment of the recording.</summary>
    public static string Clock(double seconds) =>
        string.Create(CultureInfo.InvariantCulture, $"{(int)seconds / 60}:{(int)seconds % 60:00}");

    private static string BarsSaid(int count) => count == 1 ? "a bar" : $"{count} bars";

    private static string Frets(int count) => count == 1 ? "a fret" : $"{count} frets";

    private static string Steps(int semitones) =>
        semitones switch { 1 => "a half step", 2 => "a whole step", _ => $"{semitones} half steps" };
}
