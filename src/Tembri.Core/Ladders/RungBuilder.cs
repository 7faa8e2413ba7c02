using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Ladders;

/// <summary>Turns the arrangements of the place that is played into rungs: their chords, changes, and what is new.</summary>
internal sealed class RungBuilder(ArrangementRequest request, PlaceArranger places)
{
    private readonly ChordFlow _flow = places.Flow;
    private readonly PlaceSeconds _seconds = new(places);

    /// <summary>The rungs of a place.</summary>
    /// <param name="place">The place that is played.</param>
    /// <param name="all">All places, to say what would free a blocked rung.</param>
    public List<Rung> Build(ArrangedPlace place, IReadOnlyList<ArrangedPlace> all)
    {
        var shapes = _seconds.Of(place);
        var rungs = new List<Rung>();
        Arrangement? below = null;
        var playedBelow = new HashSet<int>();
        for (var r = 0; r < places.Rungs.Count; r++)
        {
            if (shapes[r].Usual is not { } main)
            {
                rungs.Add(Block(place, r, all));
                continue;
            }
            var rungBelow = rungs.OfType<PlayableRung>().LastOrDefault();
            var rung = Playable(place, r, main, shapes[r].Seconds, rungBelow,
                chord => playedBelow.Contains(chord) ? below?.Choices[chord] : null);
            rungs.Add(rung);
            playedBelow.UnionWith(rung.Played.Select(c => c.Index));
            below = main;
        }
        return rungs;
    }

    private PlayableRung Playable(ArrangedPlace place, int r, Arrangement main, IReadOnlyList<SecondShape> seconds,
        PlayableRung? rungBelow, Func<int, Candidate?> below)
    {
        var (limits, arranger) = (places.Rungs[r], places.ArrangerAt(place.Capo));
        var (song, hand) = (places.SongOf(limits), places.HandOf(limits));
        var arrangement = _seconds.WithSeconds(limits, arranger, main, seconds);
        var flow = _seconds.SplitFlow(limits, seconds);
        var chords = Chords(limits, main, seconds, place.Capo, song, below, rungBelow);
        return new PlayableRung
        {
            Limits = limits, Capo = place.Capo, Song = song, Hand = hand, StrumLoad = hand.LoadAt(places.Chart.Tempo),
            Flow = flow, Chords = chords,
            Changes = Changes(arranger, flow, arrangement, hand), Load = arrangement.Load, Closeness = arrangement.Closeness,
            IsProved = arrangement.IsProved,
            Figures = RungFigure.Of(places.Chart, limits, places.Kind, place.Capo, place.ShapeKey,
                (section, bar) => Around(song.Chart, section, bar, main.Choices), places.Work.Cancel),
            SameAsBelow = rungBelow is not null && SamePlayed(chords, rungBelow.Chords),
        };
    }

    /// <summary>The shape that is held where a bar begins.</summary>
    private Shapes.Fingering? Around(Chart chart, int section, int bar, IReadOnlyList<Candidate> choices)
    {
        var chord = chart.Sections[section].Bars[bar].Slots[0].Chord;
        for (var i = 0; chord is not null && i < _flow.Chords.Count; i++)
            if (_flow.Chords[i].Equals(chord)) return choices[i].Fingering;
        return null;
    }

    private List<RungChange> Changes(Arranger arranger, ChordFlow flow, Arrangement arrangement,
        RightHand hand) => [.. flow.Steps.Select(step =>
    {
        var (from, to) = (arrangement.Choices[step.From].Fingering, arrangement.Choices[step.To].Fingering);
        var (place, time) = hand.Hardest(step);
        return new RungChange(step.From, step.To, step.Count, arranger.Changes.Between(from, to),
            request.Timed.Seconds(from, to), place, time);
    })];

    private static bool SamePlayed(List<RungChord> chords, IReadOnlyList<RungChord> below) =>
        chords.Count == below.Count
            && chords.All(c =>
                c is PlayedChord played ? !played.IsChanged && below[c.Index] is PlayedChord : below[c.Index] is LeftOutChord);

    private List<RungChord> Chords(
        RungLimits limits, Arrangement main, IReadOnlyList<SecondShape> seconds, int capo, RungSong song,
        Func<int, Candidate?> below, PlayableRung? rungBelow)
    {
        var shapeChords = places.ShapeChords(capo);
        bool IsChanged(int i, Candidate c) => below(i) is not { } known || !c.SameAs(known);
        bool IsMet(Candidate c) => rungBelow?.Played.Any(b => b.Choice.SameAs(c)) ?? false;
        RungChord Of(Candidate c, int i) => song.LeavesOut(i)
            ? new LeftOutChord(i, _flow.Chords[i], shapeChords[i], places.Guards[i])
            : BesideOwnGrip(new PlayedChord(i, _flow.Chords[i], shapeChords[i], places.Guards[i], c, IsChanged(i, c),
                    IsChanged(i, c) && !IsMet(c)), limits, main.Choices, capo, song);
        var chords = Reasoned(main.Choices, capo, song).Select(Of).ToList();
        foreach (var second in seconds)
        {
            var (i, c) = (second.ChordIndex, second.Choice);
            var next = second.Next < 0 ? null : shapeChords[second.Next];
            var known = rungBelow?.Played.Any(
                    b => b.IsSecond && b.SongChord == i && b.Before?.Name == next?.Name && b.Choice.SameAs(c)) ?? false;
            chords.Add(new PlayedChord(chords.Count, _flow.Chords[i], shapeChords[i], places.Guards[i], c, !known,
                !known && !IsMet(c))
            {
                Before = next, SongChord = i
            });
        }
        return chords;
    }

    /// <summary>Where the teacher has a grip of her own and something else is played, both are told.</summary>
    private PlayedChord BesideOwnGrip(PlayedChord chord, RungLimits limits, IReadOnlyList<Candidate> choices, int capo,
        RungSong song)
    {
        var arranger = places.ArrangerAt(capo);
        if (chord.Choice.Wanted) return chord with { Reason = arranger.WishOf(chord.Index)?.ReasonOn(limits) ?? "" };
        if (chord.Choice.Locked || arranger.WishOf(chord.Index)?.Grip(limits) is not { } grip || grip.SameAs(chord.Choice)
            || !arranger.MayPlay(chord.Index, limits, grip))
            return chord;
        return chord with { OwnGrip = grip,
            SavedSeconds = Seconds(arranger.Changes, song, choices, chord.Index, grip)
                - Seconds(arranger.Changes, song, choices, chord.Index, chord.Choice) };
    }

    /// <summary>Seconds of all changes from and to a chord, for the reference player, when it is played in a certain
    /// way.</summary>
    private static double Seconds(Changes.ChangeModel changes, RungSong song, IReadOnlyList<Candidate> choices, int chord,
        Candidate with) =>
        song.Flow.Steps.Sum(s => s.Count * (
        s.From == chord ? changes.Seconds(with.Fingering, choices[s.To].Fingering)
            : s.To == chord ? changes.Seconds(choices[s.From].Fingering, with.Fingering)
            : 0));

    /// <summary>Other fingers are said to be for the changes only where a change is the quicker for them.</summary>
    private IEnumerable<Candidate> Reasoned(IReadOnlyList<Candidate> choices, int capo, RungSong song)
    {
        var changes = places.ArrangerAt(capo).Changes;
        return choices.Select((c, i) =>
            c.Kind != SubstitutionKind.OtherFingering || IsQuicker(c, i) ? c : c with { Kind = SubstitutionKind.None });

        bool IsQuicker(Candidate c, int chord)
        {
            if (places.ArrangerAt(capo).CandidatesOf(chord)
                .FirstOrDefault(o => o.Habit == 0 && o.Fingering.Shape.Equals(c.Fingering.Shape)) is not { } usual)
                return false;
            return Seconds(changes, song, choices, chord, c) < Seconds(changes, song, choices, chord, usual) - 1e-9;
        }
    }

    private BlockedRung Block(ArrangedPlace place, int r, IReadOnlyList<ArrangedPlace> all)
    {
        var (limits, blocked) = (places.Rungs[r],
            place.Blocked[r] ?? throw new InvalidOperationException("A rung without an arrangement says what blocks it."));
        var hand = places.HandOf(limits);
        return new BlockedRung
        {
            Limits = limits, Capo = place.Capo, Song = places.SongOf(limits), Hand = hand,
            StrumLoad = hand.LoadAt(places.Chart.Tempo),
            Chord = _flow.Chords[blocked.ChordIndex], ShapeChord = places.ShapeChords(place.Capo)[blocked.ChordIndex],
            Nearest = blocked.Nearest,
            FreeAt = [.. all.Where(p => p.Rungs[r] is not null).Select(p => p.Capo)],
        };
    }
}
