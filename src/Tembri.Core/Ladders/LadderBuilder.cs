using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Ladders;

/// <summary>Builds ladders: arranges every rung at every place and chooses the place. How a ladder fits a student is another
/// question.</summary>
public sealed class LadderBuilder(ResultCache cache)
{
    /// <summary>Builds the ladder.</summary>
    /// <param name="request">What it depends on.</param>
    /// <param name="work">How long it may take and on how many threads.</param>
    /// <exception cref="ArgumentException">The chart has no chords or more than <see cref="ChartLimits.MostDifferentChords"/>
    /// different ones, or a capo is out of range.</exception>
    /// <exception cref="OperationCanceledException">The work was cancelled.</exception>
    public Ladder Build(ArrangementRequest request, WorkLimits work = default)
    {
        if (request.HighestCapo is < 0 or > NeckGeometry.HighestCapo)
            throw new ArgumentException($"The highest capo is 0 to {NeckGeometry.HighestCapo}.", nameof(request));
        if (request.Capo is < 0 or > NeckGeometry.HighestCapo)
            throw new ArgumentException($"A capo is 0 to {NeckGeometry.HighestCapo}.", nameof(request));
        request = request with { Chart = request.TunedChart };
        if (request.Wishes.Apart.Count > 0)
            request = request with { Chart = ChordsApart.In(request.Chart, request.Wishes.Apart) };
        var lift = LiftOf(request);
        if (lift is not null)
            request = request with { Chart = lift.Lower(request.Chart),
                HighestCapo = Math.Min(request.HighestCapo, NeckGeometry.HighestCapo - lift.Semitones) };
        var keys = Keys(request).Select(key =>
        {
            var places = new PlaceArranger(cache, request, MovedForVoice(request, key.Semitones), work);
            if (Objection(places.Flow.Chords.Count) is { } objection) throw new ArgumentException(objection, nameof(request));
            var all = Compare(request, places);
            var best = all.MinBy(p => p.Score)!;
            return (places, all, best, Score: best.Score + key.Price, key.Semitones);
        }).ToList();
        var (chosen, compared, recommended, _, semitones) = keys.MinBy(k => k.Score);
        var used = new RungOrder(chosen).EvenOut(compared.FirstOrDefault(p => p.Capo == request.Capo) ?? recommended);
        var shown = compared.Select(p => p.Capo == used.Capo ? used : p).ToList();
        var rungs = new RungBuilder(request, chosen).Build(used, shown);
        return new Ladder
        {
            Chart = chosen.Chart, Flow = chosen.Flow, Guards = chosen.Guards,
            // The place that is played says what its rungs weigh in the end, with second shapes.
            Places = [.. shown.Select(p => p == used ? p.Place with { Rungs = [.. rungs.Select(Outcome)] } : p.Place)],
            Capo = used.Capo, Lift = lift, RecommendedCapo = recommended.Capo, VoiceShift = semitones,
            ShapeKey = used.ShapeKey, Rungs = rungs,
            TradeOffs = TradeOffCurve.Of(chosen.ArrangerAt(used.Capo), chosen.WholeSong, chosen.Rungs),
        };
    }

    private static TradeOff? Outcome(Rung rung) =>
        rung is PlayableRung played ? new TradeOff(played.Load, played.Closeness) : null;

    /// <summary>The rungs of a song at one place, as a ladder at that capo has them, without comparing it with other
    /// places.</summary>
    /// <param name="request">What they depend on; its capo, aim and places are not asked.</param>
    /// <param name="semitones">How far the song is moved from the record, −11 to 11.</param>
    /// <param name="capos">The capos, each 0 to 11.</param>
    /// <param name="work">How long it may take and on how many threads.</param>
    /// <exception cref="ArgumentException">The chart cannot be arranged.</exception>
    public IEnumerable<(int Capo, IReadOnlyList<Rung> Rungs)> PlayedAt(ArrangementRequest request, int semitones,
        IEnumerable<int> capos, WorkLimits work = default)
    {
        request = request with { Chart = request.TunedChart };
        var places = new PlaceArranger(cache, request, MovedForVoice(request, semitones), work);
        if (Objection(places.Flow.Chords.Count) is { } objection) throw new ArgumentException(objection, nameof(request));
        var builder = new RungBuilder(request, places);
        foreach (var capo in capos)
        {
            work.Cancel.ThrowIfCancellationRequested();
            var used = new RungOrder(places).EvenOut(places.At(capo));
            yield return (capo, builder.Build(used, [used]));
        }
    }

    /// <summary>Where the capo is moved up; null when that was not asked for, the song does not rise, or the neck ends
    /// before.</summary>
    private static KeyLift? LiftOf(ArrangementRequest request) =>
        request.CapoUp && KeyLift.Of(request.Chart) is { } lift
                && (request.Capo ?? 0) + lift.Semitones <= NeckGeometry.HighestCapo
            ? lift
            : null;

    /// <summary>Why a song with so many different chords cannot be arranged; null when it can.</summary>
    public static string? Objection(int differentChords) => differentChords switch
    {
        0 => "The chart has no chord to arrange.",
        > ChartLimits.MostDifferentChords =>
            $"The chart has {differentChords} different chords, {ChartLimits.MostDifferentChords} are the most that are "
                + "arranged together; take it down as two songs, or write alike what sounds alike.",
        _ => null,
    };

    /// <summary>Everything that could be played for one chord at a ladder's capo, with what a rung thinks of it.</summary>
    /// <param name="request">The same request the ladder was built from.</param>
    /// <param name="ladder">The ladder.</param>
    /// <param name="chordIndex">Which chord of the song.</param>
    /// <param name="limits">The rung.</param>
    /// <returns>Candidates, those the rung would choose first.</returns>
    public IReadOnlyList<(Candidate Candidate, RungLimit? Objection)> Alternatives(ArrangementRequest request, Ladder ladder,
        int chordIndex, RungLimits limits)
    {
        var arranger = ArrangerOf(request, ladder);
        return [.. arranger.CandidatesOf(chordIndex)
            // A shape that plays the chord she wants comes first among its likes.
            .GroupBy(c => c.Fingering.ToString()).Select(g => g.FirstOrDefault(c => c.Wanted) ?? g.First())
            .Select(c => (c, arranger.Refuses(chordIndex, limits, c) ? RungLimit.Forbidden : limits.Objection(c)))
            .OrderBy(x => x.Item2 is null ? 0 : 1)
            .ThenBy(x => x.c.Load + limits.ClosenessWeight * 100 * (1 - x.c.Closeness.Value) + x.c.Idiom + x.c.Habit)
            .ThenBy(x => x.c.Fingering.ToString(), StringComparer.Ordinal)];
    }

    /// <summary>What a shape would be for a chord of the ladder: its fingerings for this hand, what it weighs, how close it
    /// comes and what it is called.</summary>
    /// <param name="request">The same request the ladder was built from.</param>
    /// <param name="ladder">The ladder.</param>
    /// <param name="chordIndex">Which chord of the song.</param>
    /// <param name="shape">The shape, six strings, at least one of which sounds.</param>
    public ShapeStudy Study(ArrangementRequest request, Ladder ladder, int chordIndex, Shape shape) =>
        new PlaceArranger(cache, request, ladder.Chart).Study(chordIndex, ladder.Capo, shape);

    private Arranger ArrangerOf(ArrangementRequest request, Ladder ladder) =>
        new PlaceArranger(cache, request, ladder.Chart).ArrangerAt(ladder.Capo);

    /// <summary>Every other way to play a chord of a rung that the rung allows, with the seconds all changes from and to it take
    /// for the reference player, those of the version first that takes least.</summary>
    /// <param name="request">The same request the ladder was built from.</param>
    /// <param name="ladder">The ladder.</param>
    /// <param name="rung">One of its rungs.</param>
    /// <param name="chord">A chord of the rung.</param>
    /// <returns>Candidates and the seconds they save each time the form is played, those first that save most for what they
    /// weigh and for how unusual they are; only those that save something.</returns>
    public IReadOnlyList<(Candidate Candidate, double Saved)> Quicker(ArrangementRequest request, Ladder ladder,
        PlayableRung rung, PlayedChord chord)
    {
        var arranger = ArrangerOf(request, ladder);
        double Seconds(Candidate with) => rung.Changes.Sum(c => c.Count * (
            c.From == chord.Index ? arranger.Changes.Seconds(with.Fingering, c.Change.To)
                : c.To == chord.Index ? arranger.Changes.Seconds(c.Change.From, with.Fingering)
                : 0));
        var now = Seconds(chord.Choice);
        return [.. arranger.CandidatesOf(chord.SongChord)
            .Where(c => rung.Limits.Allows(c) && !arranger.Refuses(chord.SongChord, rung.Limits, c) && !c.SameAs(chord.Choice)
                && c.Closeness.Value >= chord.Choice.Closeness.Value - MostLostForSpeed)
            .DistinctBy(c => c.Fingering.ToString()).Select(c => (c, now - Seconds(c))).Where(x => x.Item2 > LeastSaved)
            .OrderByDescending(
                x => x.Item2 - SecondsAPoint * (Math.Max(0, x.c.Load - chord.Choice.Load) + CandidateFinder.Strangeness(x.c)))
            .ThenBy(x => x.c.Fingering.ToString(), StringComparer.Ordinal)];
    }

    private const double MostLostForSpeed = 0.15;   // of closeness
    private const double SecondsAPoint = 0.02;      // what a point more of load or strangeness must save to come first
    private const double LeastSaved = 0.01;         // s in the whole form

    /// <summary>What each limit of a rung keeps out of this song: for every limit the chords whose usual shape breaks it, and
    /// that shape.</summary>
    /// <param name="request">The same request the ladder was built from.</param>
    /// <param name="ladder">The ladder.</param>
    /// <param name="limits">The rung.</param>
    public IReadOnlyDictionary<RungLimit, IReadOnlyList<(int Chord, Candidate Shape)>> Forbidden(ArrangementRequest request,
        Ladder ladder, RungLimits limits)
    {
        var arranger = ArrangerOf(request, ladder);
        var kept = new Dictionary<RungLimit, List<(int, Candidate)>>();
        for (var chord = 0; chord < ladder.Flow.Chords.Count; chord++)
            foreach (var group in arranger.CandidatesOf(chord).Where(c => c.Kind != SubstitutionKind.OtherFingering)
                .Select(c => (Candidate: c,
                    Broken: arranger.Refuses(chord, limits, c)
                        ? RungLimit.Forbidden
                        : limits.Objection(c)
                            ?? (c.Fingering.Shape.HighestStopped > limits.HighestFret ? RungLimit.Fret : null)))
                .Where(x => x.Broken is not null).GroupBy(x => x.Broken!.Value))
            {
                // Only shapes worth missing: those a teacher would think of.
                var shape = group.Select(x => x.Candidate).MinBy(CandidateFinder.Strangeness)!;
                if (CandidateFinder.Strangeness(shape) > StrangestMissed) continue;
                if (!kept.TryGetValue(group.Key, out var list)) kept[group.Key] = list = [];
                list.Add((chord, shape));
            }
        return kept.ToDictionary(k => k.Key,
            k => (IReadOnlyList<(int, Candidate)>)[.. k.Value.OrderBy(x => CandidateFinder.Strangeness(x.Item2))]);
    }

    private const double StrangestMissed = 30;

    private static IReadOnlyList<(int Semitones, double Price)> Keys(ArrangementRequest request) =>
        request.Aim == Aim.Voice ? VoiceKeys.For(request.Voice ?? VoiceWish.Of(request.Chart)) : [(0, 0)];

    private static Chart MovedForVoice(ArrangementRequest request, int semitones) =>
        semitones == 0 ? request.Chart : ChartTransposer.Move(request.Chart, request.Chart.Key.Transpose(semitones), semitones);

    private ArrangedPlace[] Compare(ArrangementRequest request, PlaceArranger places)
    {
        var capos = request.Aim == Aim.None ? [0] : Enumerable.Range(0, request.HighestCapo + 1).ToList();
        if (request.Capo is { } wanted && !capos.Contains(wanted)) capos.Add(wanted);
        // Positions do not know of each other, so they are worked out side by side; the result does not depend on which is done
        // first.
        var compared = new ArrangedPlace[capos.Count];
        var chart = ChartWriter.Write(places.Chart);
        Parallel.For(0, capos.Count, places.Work.Parallel, i =>
        {
            // The place that is played is arranged in any case: its arranger goes on to even steps and second shapes.
            if (capos[i] == request.Capo) { compared[i] = places.At(capos[i]); return; }
            // What a teacher took counts among its own shapes only: at other places all is as it was before.
            var tonic = places.ShapeKey(capos[i]).Tonic.PitchClass;
            var here = request with { Capo = null, HighestCapo = ArrangementRequest.DefaultHighestCapo, CapoUp = false,
                Tuning = null, Strings = null, Locks = [.. request.Locks.Where(l => l.ShapeTonic == tonic)] };
            compared[i] = cache.GetOrAdd(Places, (chart, request.Kind.Key, ArrangementStamp.DecisionsOf(here), capos[i]),
                _ => places.At(capos[i]));
        });
        return compared;
    }

    private const int ChoiceBytes = 260;

    private static readonly ResultKind<(string Chart, string Kind, string Decisions, int Capo), ArrangedPlace> Places =
        new("arranged places", 0.04, place => 1_000 + ChoiceBytes * place.Rungs.Sum(r => (long)(r?.Choices.Count ?? 0)), 9_000);
}
