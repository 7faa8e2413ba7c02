using System.Globalization;
using Tembri.Core.Charts;

namespace Tembri.Core.Hearing;

/// <summary>Listens to a recording: how it is tuned, in which key and at which tempo it is, where each bar of a chart lies in
/// it, and which chords of the chart it does not have.</summary>
/// <remarks>
/// A form is laid along the recording in all keys, at the tempos at which the sound repeats itself; what goes best is taken, and
/// laid once more at the tempo it then has. A chart whose chords do not agree with what
/// sounds for long enough is not a chart of the recording.
/// </remarks>
public static class Ear
{
    /// <summary>The longest recording, s.</summary>
    public const double Longest = 600;

    /// <summary>The shortest, s.</summary>
    public const double Shortest = 6;

    private static readonly HearingWeights W = HearingWeights.Default;
    private static readonly int[] Keys = [0, -1, 1, -2, 2, -3, 3, -4, 4, -5, 5, 6];
    private const int TemposTried = 5, TemposForKeys = 2, KeysKept = 2, ClosestTries = 2;
    private const double SameTempo = 0.03;
    private const double OffChartTempo = 0.05;   // of the score, for an octave away from the tempo a chart gives
    private const double AwayFromChart = 0.004;  // of the score, a semitone
    private const float QuietPeak = 0.002f;
    private const int DriftParts = 8;
    private const double SnapReach = 0.07;
    private const double SteadyApart = 0.35;     // s
    private const double SteadyFrom = 0.3;       // made songs have 0.67 to 0.82, noise 0, made talk 0.03

    /// <summary>Why a recording of a length and a rate cannot be worked on, before it is read; null when it can.</summary>
    /// <param name="seconds">Its length, s.</param>
    /// <param name="rate">Samples a second.</param>
    public static string? Objection(double seconds, int rate)
    {
        var said = CultureInfo.InvariantCulture;
        if (rate is < MonoSound.LowestRate or > MonoSound.HighestRate)
            return string.Create(said,
                $"A recording has {MonoSound.LowestRate:N0} to {MonoSound.HighestRate:N0} samples a second; "
                    + $"this one has {rate:N0}. Export it at another rate.");
        return seconds switch
        {
            > Longest => string.Create(said,
                $"A recording is at most {Longest / 60:0} minutes long; this one has {seconds / 60:0.#}. "
                    + $"Send the part with the song."),
            < Shortest => string.Create(said,
                $"A recording is at least {Shortest:0} seconds long; this one has {seconds:0.#}. Send the whole song."),
            _ => null,
        };
    }

    /// <summary>Why a recording cannot be worked on; null when it can.</summary>
    public static string? Objection(MonoSound sound)
    {
        if (Objection(sound.Seconds, sound.Rate) is { } objection) return objection;
        var peak = 0f;
        foreach (var sample in sound.Samples)
        {
            if (!float.IsFinite(sample))
                return "This recording holds numbers that are no sound. Export it again as a plain wav file.";
            peak = Math.Max(peak, Math.Abs(sample));
        }
        return peak < QuietPeak ? "This recording is silent. Look at the level, and at the channel it was recorded on." : null;
    }

    /// <summary>Listens.</summary>
    /// <param name="sound">The recording.</param>
    /// <param name="chart">The chart it is held against; null, or one without bars, for a first chart.</param>
    /// <param name="progress">Told the share that is done, 0 to 1.</param>
    /// <param name="cancel">Ends the work.</param>
    /// <exception cref="HearingRefusedException"><see cref="Objection(MonoSound)"/> has something against it, no chords are
    /// heard in it, or the form is too long.</exception>
    public static HearingResult Listen(MonoSound sound, Chart? chart, IProgress<double>? progress = null,
        CancellationToken cancel = default)
    {
        if (Objection(sound) is { } objection) throw new HearingRefusedException(objection);
        var form = chart is null ? new WrittenForm([]) : WrittenForm.Of(chart);
        if (!FormAligner.CanHold(form, sound.Seconds))
            throw new HearingRefusedException("The form of this chart is too long for the recording. Write it shorter, or send "
                + "the part of the recording it is for.",
                isOfChart: true);
        var low = sound.At(NoteTrack.Rate, cancel).Levelled();
        progress?.Report(0.1);
        var notes = NoteTrack.Of(low, cancel);
        progress?.Report(0.5);
        var onsets = OnsetTrack.Of(low, cancel);
        var chroma = Enumerable.Range(0, notes.Frames).Select(f => Chroma.Of(notes.At(f))).ToList();
        progress?.Report(0.6);
        if (Steadiness(chroma, notes.Loudness) < SteadyFrom)
            throw new HearingRefusedException(
                "No chords are heard in this recording: is it talk, noise, or drums alone? Send one in which chords sound.");
        if (form.Beats.Count == 0) return ChartDrafter.Draft(chroma, notes, onsets, sound.Seconds, cancel);
        var aligner = new FormAligner(chroma, notes.Loudness, onsets);
        var (alignment, semitones, tempo) = Best(aligner, new FormAligner(chroma, notes.Loudness, onsets, together: 2), form,
            chart!, Tempos(onsets, chart!, form, sound.Seconds), progress, cancel);
        var bars = BarsOf(form, alignment, onsets);
        progress?.Report(0.95);
        var heard = Measured(form, alignment, bars, chart!) is > 0 and var measured ? measured : tempo;
        var judge = new PlaceJudge(chart!, chroma, semitones);
        var places = judge.Judge(bars);
        var agreement = Agreement(places);
        var (standing, changes) = (judge.Standing(bars), FormComparer.Compare(chart!, bars));
        var likeness = (agreement + standing) / 2 - W.FormOff * changes.Sum(c => c.Bars) / Math.Max(1, bars.Count)
            - W.KeyOff * Math.Abs(semitones);
        return new HearingResult
        {
            Cents = notes.Cents, Semitones = semitones, Tempo = heard, Drift = DriftOf(bars, chart!),
            Matches = likeness >= W.SameSongFrom && places.Count > 0,
            Agreement = agreement, Standing = standing, Bars = bars, Places = places, FormChanges = changes,
            Seconds = sound.Seconds,
        };
    }

    /// <summary>How much the notes of a moment are those of a third of a second later, −1 to 1, the louder moments counting:
    /// chords stay, speech and noise do not.</summary>
    private static double Steadiness(IReadOnlyList<Chroma> chroma, IReadOnlyList<float> loudness)
    {
        var apart = (int)Math.Round(SteadyApart / NoteTrack.Step);
        var (sum, weights) = (0.0, 0.0);
        for (var f = 0; f + apart < chroma.Count; f++)
        {
            var (now, later) = (chroma[f], chroma[f + apart]);
            double a = 0, b = 0;
            for (var p = 0; p < 12; p++) (a, b) = (a + now.Treble(p) / 12, b + later.Treble(p) / 12);
            double both = 0, first = 1e-9, second = 1e-9;
            for (var p = 0; p < 12; p++)
            {
                var (x, y) = (now.Treble(p) - a, later.Treble(p) - b);
                (both, first, second) = (both + x * y, first + x * x, second + y * y);
            }
            var weight = Math.Min(loudness[f], loudness[f + apart]);
            (sum, weights) = (sum + weight * both / Math.Sqrt(first * second), weights + weight);
        }
        return weights > 0 ? sum / weights : 0;
    }

    /// <summary>Tempos worth trying: where the sound repeats itself, what the chart says, and what brings the form to the
    /// record's length; and half and double of the first.</summary>
    private static List<double> Tempos(OnsetTrack onsets, Chart chart, WrittenForm form, double seconds)
    {
        var found = TempoFinder.Candidates(onsets, 4).Select(c => c.Tempo).ToList();
        var wanted = new List<double>();
        if (found.Count > 0)
        {
            // Near the chart's tempo the chart decides which of half, whole and double is meant.
            var first = found[0];
            wanted.Add(first);
            wanted.AddRange(found.Skip(1));
            wanted.AddRange([first * 2, first / 2, first * 3 / 2, first * 2 / 3]);
        }
        wanted.Add(chart.Tempo);
        wanted.Add(form.Beats.Sum(b => b.Length) / Math.Max(1, seconds - 2) * 60);
        var kept = new List<double>();
        foreach (var tempo in wanted.Where(t => t is >= 35 and <= 260))
            if (!kept.Exists(k => Math.Abs(k / tempo - 1) < SameTempo)) kept.Add(tempo);
        // The nearest to what the chart says come first: people write half or double of it seldom.
        return [.. kept.OrderBy(t => Math.Abs(Math.Log2(t / chart.Tempo))).Take(TemposTried)];
    }

    private static (Alignment, int Semitones, double Tempo) Best(FormAligner aligner, FormAligner coarse, WrittenForm form,
        Chart chart, List<double> tempos, IProgress<double>? progress, CancellationToken cancel)
    {
        var tried = new Dictionary<(int, double), (Alignment Alignment, double Score)>();
        (Alignment Alignment, double Score) Try(int key, double tempo)
        {
            if (tried.TryGetValue((key, tempo), out var known)) return known;
            var alignment = coarse.Align(form, key, tempo, cancel);
            var score = alignment.Score
                * (1 - OffChartTempo * Math.Min(2, Math.Abs(Math.Log2(tempo / chart.Tempo))) - AwayFromChart * Math.Abs(key));
            progress?.Report(0.6 + 0.3 * Math.Min(1, (tried.Count + 1) / 32.0));
            return tried[(key, tempo)] = (alignment, score);
        }
        foreach (var key in Keys) foreach (var tempo in tempos.Take(TemposForKeys)) Try(key, tempo);
        var keys = tried.GroupBy(t => t.Key.Item1).OrderByDescending(g => g.Max(t => t.Value.Score)).Take(KeysKept)
            .Select(g => g.Key).ToList();
        foreach (var key in keys) foreach (var tempo in tempos) Try(key, tempo);
        // The two best closely, with the same taken off, and the better one once more at the tempo it turned out to have.
        var ((semitones, at), again, _) = tried.OrderByDescending(t => t.Value.Score).Take(ClosestTries)
            .Select(t => (t.Key, Closely: aligner.Align(form, t.Key.Item1, t.Key.Item2, cancel),
                Off: t.Value.Score / Math.Max(1e-9, t.Value.Alignment.Score))).MaxBy(t => t.Closely.Score * t.Off);
        for (var round = 0; round < 2; round++)
        {
            var measured = MedianTempo(form, again);
            if (measured <= 0 || Math.Abs(measured / at - 1) < 0.002) break;
            var next = aligner.Align(form, semitones, measured, cancel);
            if (next.Score < again.Score) break;
            (again, at) = (next, measured);
        }
        return (again, semitones, at);
    }

    private static double MedianTempo(WrittenForm form, Alignment alignment)
    {
        // Over stretches of eight beats, so that the raster of stretches does not matter.
        const int together = 8;
        var tempos = new List<double>();
        for (var i = 0; i + together <= alignment.Beats.Count; i++)
        {
            var beats = 0.0;
            for (var j = i; j < i + together; j++) beats += form.Beats[alignment.Beats[j].Beat].Length;
            tempos.Add(60 * beats / ((alignment.Beats[i + together - 1].To - alignment.Beats[i].From) * NoteTrack.Step));
        }
        tempos.Sort();
        return tempos.Count == 0 ? 0 : tempos[tempos.Count / 2];
    }

    private static List<HeardBar> BarsOf(WrittenForm form, Alignment alignment, OnsetTrack onsets)
    {
        var bars = new List<HeardBar>();
        var passes = new Dictionary<int, int>();
        var placed = alignment.Beats;
        for (var i = 0; i < placed.Count;)
        {
            var beat = form.Beats[placed[i].Beat];
            var end = i + 1;
            while (end < placed.Count && !form.Beats[placed[end].Beat].StartsBar) end++;
            if (i == 0 || beat.StartsPart) passes[beat.Section] = passes.GetValueOrDefault(beat.Section) + 1;
            bars.Add(new HeardBar(beat.Section, beat.Bar, passes[beat.Section], placed[i].From * NoteTrack.Step,
                placed[end - 1].To * NoteTrack.Step));
            i = end;
        }
        // The raster of stretches is coarse; where something begins is told to a hundredth of a second.
        var starts = bars.Select(b => onsets.Snap(b.Start, SnapReach)).ToList();
        for (var i = 0; i < bars.Count; i++)
            bars[i] = bars[i]
                with { Start = starts[i], End = i + 1 < bars.Count ? starts[i + 1] : onsets.Snap(bars[i].End, SnapReach) };
        return bars;
    }

    private static double BeatsOf(Chart chart, HeardBar bar) => chart.Sections[bar.Section].Bars[bar.Bar].Beats;

    private static double Measured(WrittenForm form, Alignment alignment, List<HeardBar> bars, Chart chart)
    {
        if (bars.Count < 2) return MedianTempo(form, alignment);
        return 60 * bars.Sum(b => BeatsOf(chart, b)) / (bars[^1].End - bars[0].Start);
    }

    private static (double, double) DriftOf(List<HeardBar> bars, Chart chart)
    {
        if (bars.Count < 2 * DriftParts) return (1, 1);
        var whole = bars.Sum(b => BeatsOf(chart, b)) / (bars[^1].End - bars[0].Start);
        var parts = Enumerable.Range(0, DriftParts).Select(p =>
        {
            var some = bars[(p * bars.Count / DriftParts)..((p + 1) * bars.Count / DriftParts)];
            return some.Sum(b => BeatsOf(chart, b)) / (some[^1].End - some[0].Start) / whole;
        }).ToList();
        return (parts.Min(), parts.Max());
    }

    private static double Agreement(List<HeardPlace> places)
    {
        var (agree, all) = (0.0, 0.0);
        foreach (var pass in places.Where(p => p.Written is not null)
            .SelectMany(p => p.Passes.Select(x => (p.Agrees, Seconds: x.End - x.Start))))
        {
            all += pass.Seconds;
            if (pass.Agrees) agree += pass.Seconds;
        }
        return all > 0 ? agree / all : 0;
    }
}
