using System.Collections.Concurrent;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Ladders;

/// <summary>Arranges all rungs of one song at each place, and says how good a place to play the place is.</summary>
internal sealed class PlaceArranger
{
    private static readonly PlaceWeights W = PlaceWeights.Default;

    private readonly ResultCache _cache;
    private readonly ArrangementRequest _request;
    private readonly PlayerKind _kind;
    private readonly Dictionary<double, RungSong> _songs = [];
    private readonly ConcurrentDictionary<int, Arranger> _arrangers = new();

    public PlaceArranger(ResultCache cache, ArrangementRequest request, Chart chart, WorkLimits work = default)
    {
        _cache = cache;
        Work = work;
        // Grips of one's own are of standard tuning: elsewhere they would sound something else.
        if (request.Wishes.Grips.Count > 0 && !chart.Strings.Equals(Fretboard.Tuning.Standard))
            request = request with { Wishes = request.Wishes with { Grips = [] } };
        (_request, Chart) = (request, chart);
        // Whoever plays with the record tunes as it does; slacker strings are easier to press.
        _kind = request.Kind with { Guitar = request.Kind.Guitar.Tuned(chart.TuningShift).Strung(chart.Strings),
            Thumb = request.Kind.Thumb && !request.Wishes.NoThumb };
        Flow = new ChordFlow(chart);
        _strums = new(() => RightHand.LaddersOf(chart, cache));
        Guards = GuardFinder.Find(Flow, chart.Key);
        Rungs = OwnRungs.Of(request.Rungs, request.Wishes.Rungs);
        foreach (var below in Rungs.Select(r => r.LeavesOutBelow).Append(0).Distinct())
            _songs[below] = new RungSong(chart, Flow.Chords, below);
    }

    /// <summary>How long and on how many threads positions are worked out.</summary>
    public WorkLimits Work { get; }

    /// <summary>The song, in the key it is to sound in.</summary>
    public Chart Chart { get; }

    /// <summary>Its chords and changes.</summary>
    public ChordFlow Flow { get; }

    /// <summary>The rungs as the teacher wants them, the lowest first.</summary>
    public IReadOnlyList<RungLimits> Rungs { get; }

    /// <summary>What the chart forbids for each chord.</summary>
    public IReadOnlyList<Guard> Guards { get; }

    /// <summary>The song with nothing left out.</summary>
    public RungSong WholeSong => _songs[0];

    /// <summary>What a rung plays of the song.</summary>
    public RungSong SongOf(RungLimits limits) => _songs[limits.LeavesOutBelow];

    /// <summary>Hand and guitar, tuned as it is played.</summary>
    public PlayerKind Kind => _kind;

    private Fretboard.Tuning Strings => Chart.Strings;

    /// <summary>What the right hand plays on a rung.</summary>
    public RightHand HandOf(RungLimits limits) =>
        _hands.GetOrAdd(limits, l => new RightHand(Chart, l, _request.Wishes, _strums.Value));

    private readonly Lazy<Strums.StrumLadder[]> _strums;

    private readonly ConcurrentDictionary<RungLimits, RightHand> _hands = new(ReferenceEqualityComparer.Instance);

    /// <summary>The key of the shapes.</summary>
    public Key ShapeKey(int capo) => Chart.Key.Transpose(-(capo + Chart.TuningShift));

    /// <summary>The chords at the pitch of the shapes.</summary>
    public IReadOnlyList<Chord> ShapeChords(int capo) => [.. Flow.Chords.Select(c => c.Transpose(Chart.Key, ShapeKey(capo)))];

    /// <summary>The arranger of a place.</summary>
    public Arranger ArrangerAt(int capo) => _arrangers.GetOrAdd(capo, NewArrangerAt);

    /// <summary>An arranger of a place of its own, for another thread.</summary>
    public Arranger NewArrangerAt(int capo) => new(
        _cache, SongOf, ShapeChords(capo), Guards, _kind, _request.Timed, capo, _request.Accompaniment,
        ArrangerWeights.Default.ReferenceTempo, HandOf,
        [.. Flow.Melody.Select((_, chord) => TuneOver(chord, capo))], WishesAt(capo), Work.Cancel);

    /// <summary>What the teacher wants of each chord at a place; null when she wants nothing of chords and shapes.</summary>
    private IReadOnlyList<ChordWish>? WishesAt(int capo)
    {
        var wishes = _request.Wishes;
        if (wishes is { Instead.Count: 0, StandIns.Count: 0, Shapes.Count: 0, Kinds.Count: 0, Grips.Count: 0 }) return null;
        var (book, finder, key, shapes) = (BookAt(capo), new CandidateFinder(_cache), ShapeKey(capo), ShapeChords(capo));
        return [.. Flow.Chords.Select((c, i) => new ChordWish(
            wishes, c.DegreeIn(Chart.Key), shapes[i],
            degree => Chords.Chord.OfDegree(degree, Chart.Key)?.Transpose(Chart.Key, key), finder, book, _request.Accompaniment,
            TuneOver(i, capo)))];
    }

    /// <summary>Looks at a shape for a chord at a place.</summary>
    public ShapeStudy Study(int chord, int capo, Shape shape)
    {
        var (book, asked) = (BookAt(capo), ShapeChords(capo)[chord]);
        var (finder, tune) = (new CandidateFinder(_cache), TuneOver(chord, capo));
        var fingerings = book.Of(shape).Select(f => finder.Locked(asked, f, _request.Accompaniment, tune, Strings)).ToList();
        return new ShapeStudy(
            shape, asked, fingerings, finder.ClosenessOf(asked, shape, _request.Accompaniment, tune, Strings),
            [.. Chords.ChordNamer.Name(shape.PitchClassMask(Strings), shape.BassPitchClass(Strings), ShapeKey(capo), asked)
                .Take(3)],
            fingerings.Count > 0 ? null : Reach.Of(shape, book.Neck, _kind.Hand, _kind.Thumb));
    }

    private FingeringBook BookAt(int capo) => new(_cache, _kind.Guitar, _kind.Hand, _kind.Thumb, capo);

    /// <summary>The tones of the tune over a chord, as they stand above the shapes: lower by capo and tuning.</summary>
    private int TuneOver(int chord, int capo)
    {
        var (mask, semitones) = (Flow.Melody[chord], capo + Chart.TuningShift);
        var by = (semitones % 12 + 12) % 12;
        return (mask >> by | mask << (12 - by)) & 0xFFF;
    }

    /// <summary>The teacher's shapes for a rung at a place, by chord.</summary>
    public Dictionary<int, Candidate> LocksFor(RungLimits limits, int capo)
    {
        var locks = new Dictionary<int, Candidate>();
        var grips = _request.Wishes.Grips.Where(g => g.Always && g.Rungs.Holds(limits.Height)).ToList();
        if (_request.Locks.Count == 0 && grips.Count == 0) return locks;
        var book = BookAt(capo);
        var tonic = ShapeKey(capo).Tonic.PitchClass;
        if (grips.Count > 0)
        {
            var shapes = ShapeChords(capo);
            for (var i = 0; i < shapes.Count; i++)
                if (grips.Find(g => g.Chord == shapes[i].Name) is { } grip
                    && book.Finder.Weigh(grip.ToShape(), grip.ToFingers()) is { } held)
                    locks[i] = new CandidateFinder(_cache)
                        .Locked(shapes[i], held, _request.Accompaniment, TuneOver(i, capo), Strings);
        }
        foreach (var lockedShape in _request.Locks.Where(l => l.Rung == limits.Number && l.ShapeTonic == tonic))
            for (var i = 0; i < Flow.Chords.Count; i++)
            {
                if (Flow.Chords[i].DegreeIn(Chart.Key) != lockedShape.Chord) continue;
                var fingering = lockedShape.Fingers is { } fingers
                    ? book.Finder.Weigh(lockedShape.Shape, fingers)
                    : book.Of(lockedShape.Shape).FirstOrDefault();
                if (fingering is not null)
                    locks[i] = new CandidateFinder(_cache)
                        .Locked(ShapeChords(capo)[i], fingering, _request.Accompaniment, TuneOver(i, capo), Strings);
            }
        return locks;
    }

    /// <summary>Arranges every rung at a place.</summary>
    public ArrangedPlace At(int capo)
    {
        var arranger = ArrangerAt(capo);
        var rungs = new Arrangement?[Rungs.Count];
        var blocked = new Blocked?[Rungs.Count];
        Arrangement? below = null, free = null;
        for (var r = 0; r < rungs.Length; r++)
        {
            var limits = Rungs[r];
            var locks = LocksFor(limits, capo);
            var (found, why) = limits.AimsAtLoad is { } load
                ? NearLoad(arranger, limits, load, locks, below)
                : arranger.Arrange(limits, limits.ClosenessWeight, locks, below);
            // The record is what it is; where it is lighter than the rungs below, those give way.
            if (found is not null && free is not null && !limits.IsRecord && RungOrder.IsFree(found))
                found = RungOrder.Climb(arranger, limits, locks, free, found);
            (rungs[r], blocked[r]) = (found, why);
            below = found ?? below;
            if (found is not null && RungOrder.IsFree(found)) free = found;
        }
        new RungOrder(this).LowerTooHeavy(arranger, rungs, capo);
        var barres = rungs[^1]?.Choices.Count(c => c.Fingering.LongestBarre > Barre.LongestShort) ?? 0;
        return new ArrangedPlace(capo, ShapeKey(capo), rungs, blocked, barres, Score(capo, rungs, barres));
    }

    /// <summary>A rung that was taken in between: the weight of the sound is found by halving with which it comes nearest to the
    /// load wanted.</summary>
    private static (Arrangement? Found, Blocked? Blocked) NearLoad(
        Arranger arranger, RungLimits limits, double load, Dictionary<int, Candidate> locks, Arrangement? below)
    {
        var (best, blocked) = arranger.Arrange(limits, limits.ClosenessWeight, locks, below);
        var (low, high) = (W.LowestWeight, limits.ClosenessWeight * MostOfBetween);
        for (var i = 0; i < HalvingsOfBetween && best is not null; i++)
        {
            var weight = Math.Sqrt(low * high);
            if (arranger.Arrange(limits, weight, locks, below).Found is not { } found) break;
            if (Math.Abs(found.Load - load) < Math.Abs(best.Load - load)) best = found;
            if (found.Load > load) high = weight;
            else low = weight;
        }
        return (best, blocked);
    }

    private const double MostOfBetween = 4;     // times the rung's own weight of the sound
    private const int HalvingsOfBetween = 8;

    private double Score(int capo, Arrangement?[] rungs, int barres)
    {
        double sum = 0, weights = 0;
        for (var r = 0; r < rungs.Length; r++)
        {
            // What was taken in between is for this place: it has no say in which place that is.
            if (Rungs[r].IsBetween) continue;
            var weight = W.Rungs[Math.Min(Rungs[r].Number, W.Rungs.Count) - 1];
            weights += weight;
            var perPercent = Math.Min(Rungs[r].ClosenessWeight, W.MostClosenessWeight);
            sum += weight * (rungs[r] is { } a ? a.Load + perPercent * 100 * (1 - a.Closeness) : W.BlockedRung);
        }
        var score = sum / weights;
        // The record's capo is a place of the record's pitch; a song moved for a voice has none.
        var recordCapo = _request.Aim == Aim.Voice ? 0 : Chart.RecordCapo;
        if (capo > 0 && capo != recordCapo)
            score += W.CapoAtAll + W.CapoPerFret * capo + W.HighCapo * Math.Max(0, capo - W.HighCapoFrom);
        if (recordCapo > 0 && capo != recordCapo) score += W.LeavesRecordCapo;
        if (capo > 0 && capo == -Chart.TuningShift && _request.Kind.Strings is null) score += W.UndoesTuning;
        return score + _kind.Barres switch
        {
            BarreGoal.Seek => W.SeekNoCapo * capo,
            BarreGoal.Avoid =>
                W.Barre * barres + W.BarreAvoided * (capo > W.HighestForBarres ? W.BarresAbove : Math.Max(0, barres - 1)),
            _ => W.Barre * barres,
        };
    }
}
