using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;

namespace Tembri.Core.Ladders;

/// <summary>Builds ladders: arranges every rung at every place and chooses the place. How a ladder fits a student is another question.</summary>
public sealed class LadderBuilder(ResultCache cache)
{
    /// <summary>Builds the ladder.</summary>
    /// <param name="request">What it depends on.</param>
    /// <param name="work">How long it may take and on how many threads.</param>
    /// <exception cref="ArgumentException">The chart has no chords or more than <see cref="ChartLimits.MostDifferentChords"/> different ones, or a capo is out of range.</exception>
    /// <exception cref="OperationCanceledException">The work was cancelled.</exception>
    public Ladder Build(ArrangementRequest request, WorkLimits work = default)
    {
        if (request.HighestCapo is < 0 or > NeckGeometry.HighestCapo) throw new ArgumentException($"The highest capo is 0 to {NeckGeometry.HighestCapo}.", nameof(request));
        if (request.Capo is < 0 or > NeckGeometry.HighestCapo) throw new ArgumentException($"A capo is 0 to {NeckGeometry.HighestCapo}.", nameof(request));
        if (request.Tuning is { } tuning) request = request with { Chart = request.Chart with { TuningShift = tuning } };
        var lift = LiftOf(request);
        if (lift is not null)
            request = request with { Chart = lift.Lower(request.Chart), HighestCapo = Math.Min(request.HighestCapo, NeckGeometry.HighestCapo - lift.Semitones) };
        var keys = Keys(request).Select(key =>
        {
            var places = new PlaceArranger(cache, request, MovedForVoice(request, key.Semitones), work);
            if (Objection(places.Flow.Chords.Count) is { } objection) throw new ArgumentException(objection, nameof(request));
            var all = Compare(request, places);
            var best = all.MinBy(p => p.Score)!;
            return (places, all, best, Score: best.Score + key.Price, key.Semitones);
        }).ToList();
        var (chosen, compared, recommended, _, semitones) = keys.MinBy(k => k.Score);
        var used = chosen.EvenOut(compared.FirstOrDefault(p => p.Capo == request.Capo) ?? recommended);
        var shown = compared.Select(p => p.Capo == used.Capo ? used : p).ToList();
        var rungs = new RungBuilder(request, chosen).Build(used, shown);
        return new Ladder
        {
            Chart = chosen.Chart, Flow = chosen.Flow, Guards = chosen.Guards, Places = [.. shown.Select(p => p.Place)], Capo = used.Capo, Lift = lift, RecommendedCapo = recommended.Capo, VoiceShift = semitones,
            ShapeKey = used.ShapeKey, Rungs = rungs,
            TradeOffs = TradeOffCurve.Of(chosen.ArrangerAt(used.Capo), chosen.WholeSong, request.Rungs),
        };
    }

    /// <summary>Where the capo is moved up; null when that was not asked for, the song does not rise, or the neck ends before.</summary>
    private static KeyLift? LiftOf(ArrangementRequest request) =>
        request.CapoUp && KeyLift.Of(request.Chart) is { } lift && (request.Capo ?? 0) + lift.Semitones <= NeckGeometry.HighestCapo ? lift : null;

    /// <summary>Why a song with so many different chords cannot be arranged; null when it can.</summary>
    public static string? Objection(int differentChords) => differentChords switch
    {
        0 => "The chart has no chord to arrange.",
        > ChartLimits.MostDifferentChords => $"The chart has {differentChords} different chords, {ChartLimits.MostDifferentChords} are the most that are arranged together; take it down as two songs, or write alike what sounds alike.",
        _ => null,
    };

    /// <summary>Everything that could be played for one chord at a ladder's capo, with what a rung thinks of it.</summary>
    /// <param name="request">The same request the ladder was built from.</param>
    /// <param name="ladder">The ladder.</param>
    /// <param name="chordIndex">Which chord of the song.</param>
    /// <param name="limits">The rung.</param>
    /// <returns>Candidates, those the rung would choose first.</returns>
    public IReadOnlyList<(Candidate Candidate, RungLimit? Objection)> Alternatives(ArrangementRequest request, Ladder ladder, int chordIndex, RungLimits limits) =>
        [.. new PlaceArranger(cache, request, ladder.Chart).ArrangerAt(ladder.Capo).CandidatesOf(chordIndex)
            .GroupBy(c => c.Fingering.ToString()).Select(g => g.First())
            .Select(c => (c, limits.Objection(c)))
            .OrderBy(x => x.Item2 is null ? 0 : 1)
            .ThenBy(x => x.c.Load + limits.ClosenessWeight * 100 * (1 - x.c.Closeness.Value) + x.c.Idiom + x.c.Habit)
            .ThenBy(x => x.c.Fingering.ToString(), StringComparer.Ordinal)];

    private static IReadOnlyList<(int Semitones, double Price)> Keys(ArrangementRequest request) => request.Aim == Aim.Voice ? VoiceKeys.For(request.Voice ?? VoiceWish.Of(request.Chart)) : [(0, 0)];

    private static Chart MovedForVoice(ArrangementRequest request, int semitones) =>
        semitones == 0 ? request.Chart : ChartTransposer.Move(request.Chart, request.Chart.Key.Transpose(semitones), semitones);

    private static ArrangedPlace[] Compare(ArrangementRequest request, PlaceArranger places)
    {
        var capos = request.Aim == Aim.None ? [0] : Enumerable.Range(0, request.HighestCapo + 1).ToList();
        if (request.Capo is { } wanted && !capos.Contains(wanted)) capos.Add(wanted);
        // Positions do not know of each other, so they are worked out side by side; the result does not depend on which is done first.
        var compared = new ArrangedPlace[capos.Count];
        Parallel.For(0, capos.Count, places.Work.Parallel, i => compared[i] = places.At(capos[i]));
        return compared;
    }
}
