using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Ladders;

/// <summary>A version made by hand, read, weighed and set beside the ladder.</summary>
public sealed record HandMade
{
    private static readonly ArrangerWeights W = ArrangerWeights.Default;

    /// <summary>A ladder of this one version, so that it is played, drawn and graded like any rung.</summary>
    public required Ladder Ladder { get; init; }

    /// <summary>The version as a rung.</summary>
    public required PlayableRung Rung { get; init; }

    /// <summary>Semitones it sounds above the record, −5 to 6; other than 0 it is not with the record, and is compared
    /// moved.</summary>
    public required int Semitones { get; init; }

    /// <summary>The record's bars with what becomes of them, each at its first pass.</summary>
    public required IReadOnlyList<HandBar> Bars { get; init; }

    /// <summary>Bars of the record the version leaves out, as they are played.</summary>
    public required int LeftOutBars { get; init; }

    /// <summary>Bars of the version the record does not have.</summary>
    public required int AddedBars { get; init; }

    /// <summary>The rung it is compared with: the highest that weighs no more, or the lightest of all.</summary>
    public required PlayableRung Beside { get; init; }

    /// <summary>A rung that is neither heavier nor farther from the record, and better in one of both; null when there is
    /// none.</summary>
    public PlayableRung? Better { get; init; }

    /// <summary>Chords no shape was found for.</summary>
    public required IReadOnlyList<Chord> Unheld { get; init; }

    /// <summary>Reads and weighs a version.</summary>
    /// <param name="writing">The version.</param>
    /// <param name="request">What the ladder of the song was built from.</param>
    /// <param name="ladder">That ladder.</param>
    /// <param name="cache">Where shapes are kept.</param>
    /// <exception cref="ArgumentException">The version has no chord that can be held, or the ladder no rung that can be
    /// played.</exception>
    public static HandMade Of(HandWriting writing, ArrangementRequest request, Ladder ladder, ResultCache cache)
    {
        var tuning = ladder.Chart.TuningShift;
        var kind = request.Kind with { Guitar = request.Kind.Guitar.Tuned(tuning).Strung(ladder.Chart.Strings) };
        var book = new FingeringBook(cache, kind.Guitar, kind.Hand, kind.Thumb, writing.Capo);
        var finder = new CandidateFinder(cache);
        var shapeKey = ladder.Chart.Key.Transpose(-(writing.Capo + tuning));
        var written = writing.Chart with { Tempo = ladder.Chart.Tempo, TuningShift = tuning, Strings = ladder.Chart.Strings,
            RecordCapo = 0, Key = writing.Chart.KeyIsGiven ? writing.Chart.Key : shapeKey };
        var flow = new ChordFlow(written);
        var unheld = new List<Chord>();
        var held = flow.Chords.Select(c => Hold(c)).ToList();
        if (held.All(h => h is null) || held.Count == 0)
            throw new ArgumentException("The version has no chord that this hand can hold.", nameof(writing));
        var stand = held.OfType<Candidate>().First();
        var choices = held.Select(h => h ?? stand).ToList();

        Candidate? Hold(Chord chord)
        {
            // The fingering was weighed elsewhere; here it is weighed for this hand and place.
            var given = writing.Shapes.TryGetValue(chord.Name, out var fingering)
                ? book.Finder.Weigh(fingering.Shape, fingering.Fingers) ?? book.Of(fingering.Shape).FirstOrDefault()
                : null;
            if (given is not null) return finder.Locked(chord, given, request.Accompaniment, strings: ladder.Chart.Strings);
            var taught = finder.For(chord, book, request.Accompaniment)
                .Where(c => c.Kind is SubstitutionKind.None or SubstitutionKind.OtherFingering or SubstitutionKind.FewerStrings)
                .MinBy(CandidateFinder.Strangeness);
            if (taught is null) unheld.Add(chord);
            return taught;
        }

        var (record, own) = (PlayedMoment.Of(ladder.Chart, ladder.Flow), PlayedMoment.Of(written, flow));
        var atShapes = ladder.Flow.Chords.Select(c => c.Transpose(ladder.Chart.Key, shapeKey)).ToList();
        var semitones = BarAlignment.NearestPitch(record, own, atShapes, flow.Chords,
            writing.Chart.KeyIsGiven && writing.Chart.Key == shapeKey);
        var asked = semitones == 0 ? atShapes : [.. atShapes.Select(c => c.Transpose(shapeKey, shapeKey.Transpose(semitones)))];
        var met = BarAlignment.Of(record, own, asked, flow.Chords);
        var beside = BesideOf(ladder, LoadOf(flow, choices));
        var bars = BarsOf(record, own, met, asked, choices, flow, ladder, beside, request, finder);
        var closeness = bars.Closeness * (1 - W.UnheardChange * Unheard(record, own, met, asked, choices));
        var rung = RungOf(writing, request.Kind with { Guitar = book.Neck.Guitar }, written, flow, choices, book, beside,
            LoadOf(flow, choices), Math.Clamp(closeness, 0, 1));
        var playable = ladder.Playable.ToList();
        return new HandMade
        {
            Rung = rung, Semitones = semitones > 6 ? semitones - 12 : semitones, Bars = bars.Bars, Beside = beside,
            Unheld = unheld,
            LeftOutBars = met.Count(m => m is null), AddedBars = own.Count - met.Count(m => m is not null),
            Better = playable.Where(r => r.Load <= rung.Load + 1e-9 && r.Closeness >= rung.Closeness - 1e-9
                    && (r.Load < rung.Load - 1 || r.Closeness > rung.Closeness + 0.01)).OrderByDescending(r => r.Closeness)
                .ThenBy(r => r.Load).FirstOrDefault(),
            Ladder = new Ladder
            {
                Chart = rung.Song.Chart, Flow = rung.Flow, Guards = [.. flow.Chords.Select(_ => new Guard())],
                Capo = writing.Capo, RecommendedCapo = ladder.RecommendedCapo, ShapeKey = written.Key,
                Places = [new Place(writing.Capo, written.Key, [new TradeOff(rung.Load, rung.Closeness)], [null], 0, 0)],
                Rungs = [rung], TradeOffs = [new TradeOff(rung.Load, rung.Closeness)],
            },
        };
    }

    private static PlayableRung BesideOf(Ladder ladder, double load) =>
        ladder.Playable.LastOrDefault(r => r.Load <= load + 1e-6) ?? ladder.Playable.MinBy(r => r.Load)
            ?? throw new ArgumentException("The ladder has no rung that can be played.", nameof(ladder));

    private static double LoadOf(ChordFlow flow, IReadOnlyList<Candidate> choices) =>
        flow.TotalBeats <= 0 ? 0 : choices.Select((c, i) => flow.Beats[i] / flow.TotalBeats * c.Load).Sum();

    private static (double Closeness, List<HandBar> Bars) BarsOf(
        List<PlayedMoment> record, List<PlayedMoment> own, int?[] met, IReadOnlyList<Chord> asked, List<Candidate> choices,
        ChordFlow flow, Ladder ladder, PlayableRung beside, ArrangementRequest request, CandidateFinder finder)
    {
        var known = new Dictionary<(int, int), double>();
        double Near(int theirs, int ours)
        {
            if (!known.TryGetValue((theirs, ours), out var value))
                known[(theirs, ours)] = value = finder.ClosenessOf(asked[theirs], choices[ours].Fingering.Shape,
                    request.Accompaniment, strings: ladder.Chart.Strings).Value;
            return value;
        }
        double total = 0, near = 0;
        var bars = new List<HandBar>();
        var seen = new HashSet<(int, int)>();
        for (var i = 0; i < record.Count; i++)
        {
            var (here, mine) = (record[i], met[i] is { } at ? own[at] : null);
            double heard = 0, close = 0, ownTime = 0, load = 0, rungTime = 0, rungClose = 0, rungLoad = 0;
            foreach (var x in here.Chords)
            {
                heard += x.To - x.From;
                foreach (var y in mine?.Chords ?? [])
                    close += Math.Max(0, Math.Min(x.To, y.To) - Math.Max(x.From, y.From)) * Near(x.Chord, y.Chord);
            }
            foreach (var y in mine?.Chords ?? [])
                (ownTime, load) = (ownTime + y.To - y.From, load + (y.To - y.From) * choices[y.Chord].Load);
            var slots = beside.Song.Chart.Sections[here.Section].Bars[here.Bar].Slots;
            for (var s = 0; s < slots.Count; s++)
            {
                if (beside.Flow.ChordAt(i, s) is not (>= 0 and var chord)) continue;
                rungTime += slots[s].Beats;
                rungClose += slots[s].Beats * beside.PlayedAs(chord).Choice.Closeness.Value;
                rungLoad += slots[s].Beats * beside.PlayedAs(chord).Choice.Load;
            }
            total += here.Beats * heard;
            near += here.Beats * close;
            if (!seen.Add((here.Section, here.Bar))) continue;
            bars.Add(new HandBar(
                here.Section, here.Bar, met[i], heard > 0 ? close / heard : 1, ownTime > 0 ? load / ownTime : 0,
                rungTime > 0 ? rungClose / rungTime : 1, rungTime > 0 ? rungLoad / rungTime : 0,
                [.. (mine?.Chords ?? []).Select(y => flow.Chords[y.Chord])]));
        }
        return (total > 0 ? near / total : 0, [.. bars.OrderBy(b => b.Section).ThenBy(b => b.Bar)]);
    }

    /// <summary>Share of the record's chord changes that the version plays with one and the same sound.</summary>
    private static double Unheard(List<PlayedMoment> record, List<PlayedMoment> own, int?[] met, IReadOnlyList<Chord> asked,
        List<Candidate> choices)
    {
        int? SoundAt(int bar, double share) =>
            met[bar] is { } at
                    && own[at].Chords.FirstOrDefault(c => c.From <= share + 1e-9 && share < c.To - 1e-9) is { To: > 0 } c
                ? choices[c.Chord].Sound
                : null;
        var (changes, unheard) = (0, 0);
        (int Chord, int? Sound)? before = null;
        for (var i = 0; i < record.Count; i++)
            foreach (var x in record[i].Chords)
            {
                var sound = SoundAt(i, x.From);
                if (before is { } b && b.Chord != x.Chord)
                {
                    changes++;
                    if (asked[b.Chord].PitchClassMask != asked[x.Chord].PitchClassMask && sound is not null && sound == b.Sound)
                        unheard++;
                }
                before = (x.Chord, sound);
            }
        return changes == 0 ? 0 : unheard / (double)changes;
    }

    private static PlayableRung RungOf(HandWriting writing, PlayerKind kind, Chart written, ChordFlow flow,
        List<Candidate> choices, FingeringBook book, PlayableRung beside, double load, double closeness)
    {
        var sounding = ChartTransposer.Move(written, written.Key.Transpose(writing.Capo + written.TuningShift),
                writing.Capo + written.TuningShift, keepPlaces: true) with { RecordCapo = writing.Capo };
        var soundingFlow = new ChordFlow(sounding);
        var limits = RungLimits.Defaults[^1]
            with { Number = RungLimits.HandMade, Name = writing.Name, Motto = "made by hand", RightHand = writing.RightHand };
        var hand = new RightHand(sounding, limits);
        var model = new ChangeModel(book.Neck);
        bool IsKnown(Candidate c) => beside.Played.Any(b => b.Choice.SameAs(c));
        Fingering? Around(int section, int bar) =>
            sounding.Sections[section].Bars[bar].Slots[0].Chord is { } chord
                    && soundingFlow.Chords.ToList().IndexOf(chord) is >= 0 and var at
                ? choices[at].Fingering
                : null;
        return new PlayableRung
        {
            Figures = RungFigure.Of(sounding, limits, kind, writing.Capo, written.Key, Around), Limits = limits,
            Capo = writing.Capo, Song = new RungSong(sounding, soundingFlow.Chords, 0), Hand = hand,
            StrumLoad = hand.LoadAt(written.Tempo), Flow = soundingFlow, Load = load, Closeness = closeness, IsProved = true,
            Chords = [.. choices.Select((c, i) => new PlayedChord(i, soundingFlow.Chords[i], flow.Chords[i], new Guard(),
                c with { Played = flow.Chords[i] }, true, !IsKnown(c)))],
            Changes = [.. soundingFlow.Steps.Select(s => new RungChange(s.From, s.To, s.Count,
                model.Between(choices[s.From].Fingering, choices[s.To].Fingering), null, hand.Hardest(s).Place,
                hand.Hardest(s).Time))],
        };
    }
}
