using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Hearing;

/// <summary>Says of each written chord whether the record agrees, from all the times it is played.</summary>
/// <remarks>
/// The strengths of the pitch classes are averaged over each time, a little away from its edges, and the middle one is taken
/// over all times. Every chord has a likelihood for them (<see cref="ChordLikelihood"/>); a triad
/// has that of its likeliest chord. The written one is given a little, what is rare has to make up for it.
/// </remarks>
internal sealed class PlaceJudge(Chart chart, IReadOnlyList<Chroma> chroma, int semitones)
{
    private static readonly HearingWeights W = HearingWeights.Default;
    private static readonly IReadOnlyList<(HeardChord Chord, double[] Expected, double Rare)> Known =
        [.. HeardChord.All.Select(c => (c, ChordLikelihood.Expected(c), W.Rare.GetValueOrDefault(c.Kind)))];
    private const double Edge = 0.06;          // s
    private const double EdgeShare = 0.12;     // of a short chord

    /// <summary>Judges all places that are played.</summary>
    /// <param name="times">When each bar is played.</param>
    public List<HeardPlace> Judge(IReadOnlyList<HeardBar> times)
    {
        var places = new List<HeardPlace>();
        foreach (var bar in times.GroupBy(b => (b.Section, b.Bar)).OrderBy(g => g.Key))
        {
            foreach (var (slot, index, from, to) in Shares(bar.Key.Section, bar.Key.Bar))
                if (!slot.IsSilence
                    && Place(bar.Key.Section, bar.Key.Bar, index, slot.Chord,
                        [.. bar.Select(b => Within(b, from, to))]) is var place)
                    places.Add(place.Agrees && slot.Chord is not null ? place : place with { Course = Course([.. bar]) });
        }
        return places;
    }

    /// <summary>The chords of a bar with the share of it after which each starts and ends.</summary>
    private IEnumerable<(Slot Slot, int Index, double From, double To)> Shares(int section, int bar)
    {
        var written = chart.Sections[section].Bars[bar];
        var at = 0.0;
        for (var s = 0; s < written.Slots.Count; s++)
        {
            var from = at;
            at += written.Slots[s].Beats;
            yield return (written.Slots[s], s, from / written.Beats, at / written.Beats);
        }
    }

    private static (double Start, double End) Within(HeardBar bar, double from, double to) =>
        (bar.Start + from * (bar.End - bar.Start), bar.Start + to * (bar.End - bar.Start));

    private HeardPlace Place(int section, int bar, int slot, Chord? written, IReadOnlyList<(double Start, double End)> times)
    {
        var each = times.Select(t => Between(t.Start, t.End)).ToList();
        var all = Chroma.Median(each).Scaled();
        var (best, certainty, agrees) = Read(all, written);
        var heard = Named(best);
        return new HeardPlace(
            section, bar, slot, written, heard, agrees, certainty, Notes(all),
            [.. times.Select((t, i) => Read(each[i].Scaled(), written) is var (one, _, same)
                ? new HeardPass(t.Start, t.End, Named(one), same == agrees && (agrees || one.Triad == best.Triad))
                : default)]);
    }

    /// <summary>How the written chords stand between those of the whole chart taken at random, and the likeliest ones; see
    /// <see cref="HearingResult.Standing"/>.</summary>
    /// <param name="times">When each bar is played.</param>
    public double Standing(IReadOnlyList<HeardBar> times)
    {
        var chords = chart.Chords.Select(c => ChordLikelihood.Expected(c, semitones)).ToList();
        var (written, chance, best) = (0.0, 0.0, 0.0);
        foreach (var bar in times)
        {
            foreach (var (slot, _, from, to) in Shares(bar.Section, bar.Bar))
            {
                if (slot.Chord is null) continue;
                var (start, end) = Within(bar, from, to);
                var scaled = Between(start, end).Scaled();
                var length = end - start;
                written += length * ChordLikelihood.Of(ChordLikelihood.Expected(slot.Chord, semitones), scaled);
                chance += length * chords.Average(c => ChordLikelihood.Of(c, scaled));
                best += length * Known.Max(k => ChordLikelihood.Of(k.Expected, scaled));
            }
        }
        return best - chance > 1e-9 ? (written - chance) / (best - chance) : 0;
    }

    private Chroma Between(double start, double end)
    {
        var edge = Math.Min(Edge, EdgeShare * (end - start));
        var from = Math.Clamp((int)Math.Ceiling((start + edge) / NoteTrack.Step), 0, chroma.Count - 1);
        var to = Math.Clamp((int)Math.Floor((end - edge) / NoteTrack.Step) + 1, from + 1, chroma.Count);
        return Chroma.Mean(chroma, from, to);
    }

    /// <summary>The likeliest chord, how certain its triad is, and whether it is the written one as far as can be
    /// told.</summary>
    private (HeardChord Best, double Certainty, bool Agrees) Read(Chroma scaled, Chord? written)
    {
        var wanted = written is null ? (HeardTriad?)null : HeardChord.TriadOf(written, semitones);
        var byTriad = new Dictionary<HeardTriad, (HeardChord Chord, double Value)>();
        foreach (var (chord, expected, rare) in Known)
        {
            var value = ChordLikelihood.Of(expected, scaled) - rare;
            if (!byTriad.TryGetValue(chord.Triad, out var known) || value > known.Value) byTriad[chord.Triad] = (chord, value);
        }
        // The written chord is asked for as it stands, with its bass and its further tones.
        var asWritten = written is null
            ? double.NegativeInfinity
            : Math.Max(ChordLikelihood.Of(ChordLikelihood.Expected(written, semitones), scaled),
                    wanted is { } w && byTriad.TryGetValue(w, out var plain) ? plain.Value : double.NegativeInfinity)
                + W.WrittenFirst;
        var others = byTriad.Where(t => t.Key != wanted).OrderByDescending(t => t.Value.Value).ToList();
        var other = others[0].Value;
        if (written is not null)
        {
            var lead = other.Value - asWritten;
            var certain = 1 / (1 + Math.Exp(-W.Certainty * Math.Abs(lead)));
            var isOther = lead > 0 && certain >= W.SaidFrom;
            if (!isOther)
                return (byTriad.TryGetValue(wanted!.Value, out var same) ? same.Chord : other.Chord,
                    lead > 0 ? 1 - certain : certain, true);
            return (other.Chord, certain, false);
        }
        return (other.Chord, 1 / (1 + Math.Exp(-W.Certainty * (other.Value - others[1].Value.Value))), true);
    }

    /// <summary>A heard chord as the chart would write it.</summary>
    private Chord Named(HeardChord heard)
    {
        var root = chart.Key.Spell(((heard.Root - semitones) % 12 + 12) % 12);
        return Chord.Parse(root.ToAscii() + heard.Suffix);
    }

    /// <summary>How strong the notes are from sixteenth to sixteenth of a bar, the middle one of all times it is
    /// played.</summary>
    private IReadOnlyList<IReadOnlyList<double>> Course(IReadOnlyList<HeardBar> times)
    {
        var columns = Enumerable.Range(0, HeardPlace.Stretches).Select(i => Chroma.Median([.. times.Select(t =>
        {
            var (start, end) = Within(t, (double)i / HeardPlace.Stretches, (i + 1.0) / HeardPlace.Stretches);
            var from = Math.Clamp((int)Math.Round(start / NoteTrack.Step), 0, chroma.Count - 1);
            return Chroma.Mean(chroma, from, Math.Clamp((int)Math.Round(end / NoteTrack.Step), from + 1, chroma.Count));
        })])).ToList();
        var strongest = Math.Max(1e-6f, columns.Max(c => Enumerable.Range(0, 12).Max(c.Treble)));
        return [.. columns.Select(c => (IReadOnlyList<double>)[
            .. Enumerable.Range(0, 12).Select(p => Math.Round(c.Treble(((p + semitones) % 12 + 12) % 12) / strongest, 2))])];
    }

    private double[] Notes(Chroma scaled)
    {
        var strongest = Math.Max(1e-6f, Enumerable.Range(0, 12).Max(scaled.Treble));
        return [
            .. Enumerable.Range(0, 12).Select(p => Math.Round(scaled.Treble(((p + semitones) % 12 + 12) % 12) / strongest, 3))];
    }
}
