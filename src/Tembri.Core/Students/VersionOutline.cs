using Tembri.Core.Arranging;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Core.Students;

/// <summary>How a version fits, in two numbers.</summary>
/// <param name="Fit">Share of beats expected clean and in time, 0 to 1.</param>
/// <param name="Verdict">The verdict by the weakest link.</param>
public readonly record struct VersionGrade(double Fit, Verdict Verdict);

/// <summary>What of a version the fit needs, without the song: small enough to keep for a whole library and quick to grade for
/// many students.</summary>
/// <remarks>
/// Fit = Σ beats · clean less what late changes spoil, over all beats, times the chance that the strum goes on. A late change
/// spoils the stroke it misses and the beats of waiting, at most the
/// whole spell of the chord it reaches. All chances are odds: a demand and a skill, or a time needed and a time there is, meet
/// in one multiplication, so that nothing is raised to a power per student and version.
/// </remarks>
public sealed partial class VersionOutline
{
    /// <summary>The slowest tempo that is looked at, beats a minute.</summary>
    public const double SlowestTempo = 30;

    /// <summary>The fastest.</summary>
    public const double FastestTempo = 260;

    private const int Halvings = 24;
    private static readonly FitWeights W = FitWeights.Default;
    private const int MostOnStack = 256;
    private readonly double[] _beats;
    private readonly OutlinedChord[] _chords;
    private readonly OutlinedChange[] _changes;
    private readonly double[] _late;     // odds that the reference player is late for each change at the song's tempo
    private readonly double[] _free;     // seconds there are for each change at the song's tempo
    private readonly int _changeCount;
    private readonly (double Share, double Odds)[] _strums;   // odds that each pattern breaks off at the song's tempo

    /// <summary>Makes an outline.</summary>
    /// <param name="tempo">The song's tempo, beats a minute.</param>
    /// <param name="hand">What the right hand does.</param>
    /// <param name="chords">Its chords.</param>
    /// <param name="changes">Its changes.</param>
    public VersionOutline(double tempo, OutlinedHand hand, IReadOnlyList<OutlinedChord> chords,
        IReadOnlyList<OutlinedChange> changes)
    {
        (Tempo, Hand, _chords, _changes) = (tempo, hand, [.. chords], [.. changes]);
        _beats = [.. chords.Select(c => c.Beats)];
        _free = [.. changes.Select(c => 60 / tempo * c.FreeBeats)];
        _late = [.. changes.Select((c, i) => FitModel.OddsOfLate(c.Seconds, _free[i]))];
        _changeCount = changes.Sum(c => c.Count);
        TotalBeats = _beats.Sum();
        _strums = [.. hand.Patterns.Select(p => (p.Share, FitModel.OddsOfStrum(p.Effort.LoadAt(tempo))))];
        StrumLoad = hand.Patterns.Sum(p => p.Share * p.Effort.LoadAt(tempo));
        bool Asks(Technique technique) =>
            Array.Exists(_chords, c => c.Beats > 0 && c.Demands.Any(d => d.Technique == technique));
        HasFullBarre = Asks(Technique.FullBarre);
        HasBarre = HasFullBarre || Asks(Technique.ShortBarre);
    }

    /// <summary>The song's tempo, beats a minute.</summary>
    public double Tempo { get; }

    /// <summary>What the right hand does.</summary>
    public OutlinedHand Hand { get; }

    /// <summary>Load of the right hand at the song's tempo, 0 to 100: the mean over its patterns.</summary>
    public double StrumLoad { get; }

    /// <summary>The chords.</summary>
    public IReadOnlyList<OutlinedChord> Chords => _chords;

    /// <summary>The changes, those in which nothing moves as well.</summary>
    public IReadOnlyList<OutlinedChange> Changes => _changes;

    /// <summary>All beats with a chord.</summary>
    public double TotalBeats { get; }

    /// <summary>True when a finger lies across strings in some chord that is played.</summary>
    public bool HasBarre { get; }

    /// <summary>True when a finger lies across four strings or more in some chord that is played.</summary>
    public bool HasFullBarre { get; }

    /// <summary>The fit at the song's tempo: share of beats expected clean and in time, 0 to 1.</summary>
    /// <param name="player">The student. A timed change counts as it was timed for the student the version was arranged
    /// for.</param>
    public double Fit(Player player) => Grade(new PlayerOdds(player)).Fit;

    /// <summary>Fit and verdict at the song's tempo.</summary>
    /// <param name="player">The student.</param>
    public VersionGrade Grade(Player player) => Grade(new PlayerOdds(player));

    /// <summary>The same, when what the student brings is reckoned already.</summary>
    internal VersionGrade Grade(PlayerOdds player)
    {
        Span<double> clean = stackalloc double[_beats.Length];
        FillClean(clean, player);
        // Every change is looked up once; whatever is asked of it next is a multiplication.
        var few = _changes.Length <= MostOnStack;
        Span<double> late = few ? stackalloc double[_changes.Length] : new double[_changes.Length];
        Span<double> needed = few ? stackalloc double[_changes.Length] : new double[_changes.Length];
        FillLate(late, needed, player);
        var fit = At(Tempo, Strummed(player), clean, late, needed);
        var verdict = fit < W.GrowingFrom ? Verdict.Strained
            : fit < W.ReadyFrom || WeakestLink(clean, late) is not null
                || InTime(SlowestTempo, late) < W.ComfortableInTime ? Verdict.Growing
            : Verdict.Ready;
        return new VersionGrade(fit, verdict);
    }

    /// <summary>What keeps a version from being ready, however good the rest is: a chord seldom clean, or a frequent change
    /// mostly late. Null when there is no such thing.</summary>
    /// <param name="clean">Chance that each chord sounds clean.</param>
    /// <param name="player">The student.</param>
    /// <returns>The index of a chord, or of a change; the chord with the least chance first.</returns>
    internal (int? Chord, int? Change)? WeakestLink(ReadOnlySpan<double> clean, PlayerOdds player) =>
        WeakestLink(clean, Late(player).Late);

    private (int? Chord, int? Change)? WeakestLink(ReadOnlySpan<double> clean, ReadOnlySpan<double> late)
    {
        var (chord, least) = (-1, W.LeastClean);
        for (var i = 0; i < clean.Length; i++) if (_beats[i] > 0 && clean[i] < least) (chord, least) = (i, clean[i]);
        if (chord >= 0) return (chord, null);
        var (change, latest) = (-1, 1.0);
        for (var i = 0; i < _changes.Length; i++)
            if (_changes[i].Count >= W.FrequentChange * _changeCount && late[i] > latest) (change, latest) = (i, late[i]);
        return change < 0 ? null : (null, change);
    }

    /// <summary>The highest whole tempo, in beats a minute, at which nine of ten changes are in time; null when none is. Chords
    /// that are not clean yet are not mended by going slower.</summary>
    /// <param name="player">The student.</param>
    public double? ComfortableTempo(Player player)
    {
        var late = Late(new PlayerOdds(player)).Late;
        bool IsComfortable(double tempo) => InTime(tempo, late) >= W.ComfortableInTime;
        if (!IsComfortable(SlowestTempo)) return null;
        if (IsComfortable(FastestTempo)) return FastestTempo;
        double low = SlowestTempo, high = FastestTempo;
        for (var i = 0; i < Halvings; i++)
        {
            var middle = (low + high) / 2;
            if (IsComfortable(middle)) low = middle;
            else high = middle;
        }
        return Math.Floor(low);
    }

    /// <summary>Share of the changes that is in time at a tempo, 0 to 1; 1 when there are none.</summary>
    internal double InTime(double tempo, PlayerOdds player) => InTime(tempo, Late(player).Late);

    private double InTime(double tempo, ReadOnlySpan<double> late)
    {
        if (_changeCount == 0) return 1;
        var (inTime, faster) = (0.0, Faster(tempo));
        for (var i = 0; i < _changes.Length; i++) inTime += _changes[i].Count / (1 + late[i] * faster);
        return inTime / _changeCount;
    }

    /// <summary>Chance that each chord sounds clean.</summary>
    internal double[] Clean(PlayerOdds player)
    {
        var clean = new double[_beats.Length];
        FillClean(clean, player);
        return clean;
    }

    /// <summary>The fit at a tempo; it falls as the tempo rises.</summary>
    internal double At(double tempo, ReadOnlySpan<double> clean, PlayerOdds player)
    {
        var (late, needed) = Late(player);
        return At(tempo, Hand.Patterns.Sum(p => p.Share * FitModel.Strummed(p.Effort.LoadAt(tempo), player.RightHand)), clean,
            late, needed);
    }

    /// <summary>Chance that the right hand goes on clean at the song's tempo: each pattern for its share of the time.</summary>
    internal double Strummed(PlayerOdds player)
    {
        var clean = 0.0;
        foreach (var (share, odds) in _strums) clean += share / (1 + odds * player.Strum);
        return clean;
    }

    /// <summary>Seconds a student needs for a change.</summary>
    internal double Needed(int change, PlayerOdds player) => Look(change, player).Needed;

    /// <summary>Seconds a student needs for a change, and the odds that it is late at the song's tempo.</summary>
    private (double Needed, double Late) Look(int change, PlayerOdds player)
    {
        ref readonly var c = ref _changes[change];
        if (c.IsTimed) return (c.Seconds, _late[change]);
        var predicted = c.Seconds * player.Slowness;
        return player.Measured.Of(_chords[c.From].Shape, _chords[c.To].Shape) is { } measured
            && Measured.Seconds(measured, predicted) is var needed
                ? (needed, FitModel.OddsOfLate(needed, _free[change]))
                : (predicted, _late[change] * player.Late);
    }

    private void FillLate(Span<double> late, Span<double> needed, PlayerOdds player)
    {
        for (var i = 0; i < late.Length; i++) (needed[i], late[i]) = Look(i, player);
    }

    /// <summary>The same for every change.</summary>
    private (double[] Late, double[] Needed) Late(PlayerOdds player)
    {
        var (late, needed) = (new double[_changes.Length], new double[_changes.Length]);
        FillLate(late, needed, player);
        return (late, needed);
    }

    /// <summary>By what a tempo multiplies the odds that a change is late.</summary>
    private double Faster(double tempo) => tempo == Tempo ? 1 : Math.Pow(tempo / Tempo, W.TimeSteepness);

    private void FillClean(Span<double> clean, PlayerOdds player)
    {
        for (var i = 0; i < clean.Length; i++)
        {
            // The product of logistics with one division.
            var unlikely = 1.0;
            foreach (var (technique, odds) in _chords[i].Demands.Odds) unlikely *= 1 + odds * player[technique];
            clean[i] = player.Measured.Clean(_chords[i].Shape, 1 / unlikely);
        }
    }

    private double At(double tempo, double strummed, ReadOnlySpan<double> clean, ReadOnlySpan<double> late,
        ReadOnlySpan<double> needed)
    {
        if (TotalBeats <= 0) return 1;
        var (good, faster) = (0.0, Faster(tempo));
        for (var i = 0; i < clean.Length; i++) good += _beats[i] * clean[i];
        for (var i = 0; i < _changes.Length; i++)
        {
            ref readonly var change = ref _changes[i];
            if (change.Seconds <= 0) continue;
            var odds = late[i] * faster;
            var waiting = Math.Max(0, needed[i] * tempo / 60 - change.FreeBeats);
            good -= change.Count * clean[change.To] * odds / (1 + odds)
                * Math.Min(_chords[change.To].SpellBeats, Hand.BeatsAStroke + waiting);
        }
        return Math.Clamp(good / TotalBeats, 0, 1) * strummed;
    }

    /// <summary>Grades many versions for many students, on all cores.</summary>
    /// <param name="players">Students.</param>
    /// <param name="versions">Versions.</param>
    /// <returns>The fit by student and version, 0 to 1.</returns>
    public static double[][] Grade(IReadOnlyList<Player> players, IReadOnlyList<VersionOutline> versions)
    {
        var fits = new double[players.Count][];
        Parallel.For(0, players.Count, p =>
        {
            var odds = new PlayerOdds(players[p]);
            var row = fits[p] = new double[versions.Count];
            for (var v = 0; v < row.Length; v++) row[v] = versions[v].Grade(odds).Fit;
        });
        return fits;
    }
}
