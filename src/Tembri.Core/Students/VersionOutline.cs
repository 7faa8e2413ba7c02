using Tembri.Core.Ladders;
using Tembri.Core.Strums;

namespace Tembri.Core.Students;

/// <summary>How much a shape asks of one technique.</summary>
/// <param name="Technique">The technique.</param>
/// <param name="Points">0 to 100, on the scale of the load.</param>
public readonly record struct Demand(Technique Technique, double Points);

/// <summary>A chord of a version, as the fit sees it.</summary>
/// <param name="Name">At the pitch of the shapes.</param>
/// <param name="Beats">Beats it sounds over the whole form; 0 for a chord that is left out.</param>
/// <param name="SpellBeats">Beats it sounds at a time, on the average.</param>
/// <param name="Demands">What its shape asks.</param>
public sealed record OutlinedChord(string Name, double Beats, double SpellBeats, IReadOnlyList<Demand> Demands);

/// <summary>A change of a version, as the fit sees it.</summary>
/// <param name="From">Index of the chord left.</param>
/// <param name="To">Index of the chord reached.</param>
/// <param name="Count">Times in the form.</param>
/// <param name="Seconds">What the reference player needs, s; or what was timed.</param>
/// <param name="IsTimed">True when it was timed for this student.</param>
/// <param name="FreeBeats">Beats the strum leaves for it.</param>
public readonly record struct OutlinedChange(int From, int To, int Count, double Seconds, bool IsTimed, double FreeBeats);

/// <summary>What of a version the fit needs, without the song: small enough to keep for a whole library and quick to grade for many students.</summary>
/// <remarks>
/// Fit = Σ beats · clean less what late changes spoil, over all beats, times the chance that the strum goes on. A late change spoils the first beat of
/// the chord it reaches, a very late one as many as it is late, at most the whole spell of the chord.
/// </remarks>
public sealed class VersionOutline
{
    private const double SlowestTempo = 30;
    private const double FastestTempo = 260;
    private const int Halvings = 24;
    private readonly Demand[][] _demands;
    private readonly double[] _beats;
    private readonly OutlinedChange[] _changes;

    /// <summary>Makes an outline.</summary>
    /// <param name="tempo">The song's tempo, beats a minute.</param>
    /// <param name="strum">The version's strum.</param>
    /// <param name="chords">Its chords.</param>
    /// <param name="changes">Its changes.</param>
    public VersionOutline(double tempo, StrumPattern strum, IReadOnlyList<OutlinedChord> chords, IReadOnlyList<OutlinedChange> changes)
    {
        (Tempo, Strum, Chords, _changes) = (tempo, strum, chords, [.. changes]);
        _demands = [.. chords.Select(c => c.Demands.ToArray())];
        _beats = [.. chords.Select(c => c.Beats)];
        TotalBeats = _beats.Sum();
        StrumLoad = strum.LoadAt(tempo);
    }

    /// <summary>Takes the outline of a rung.</summary>
    /// <param name="rung">A rung that can be played.</param>
    /// <param name="tempo">The song's tempo, beats a minute.</param>
    public static VersionOutline Of(PlayableRung rung, double tempo)
    {
        var spells = new int[rung.Chords.Count];
        foreach (var spell in rung.Flow.Sequence) spells[spell.Chord]++;
        return new VersionOutline(
            tempo, rung.Strum,
            [.. rung.Chords.Select((c, i) => new OutlinedChord(
                c.ShapeChord.Name, rung.Flow.Beats[i], spells[i] == 0 ? 0 : rung.Flow.Beats[i] / spells[i], [.. FitModel.Demands(c.Choice.Fingering)]))],
            [.. rung.Changes.Select(c => new OutlinedChange(c.From, c.To, c.Count, c.TimedSeconds ?? c.Change.Seconds, c.TimedSeconds is not null, c.FreeBeats))]);
    }

    /// <summary>The song's tempo, beats a minute.</summary>
    public double Tempo { get; }

    /// <summary>The strum.</summary>
    public StrumPattern Strum { get; }

    /// <summary>Load of the strum at the song's tempo, 0 to 100.</summary>
    public double StrumLoad { get; }

    /// <summary>The chords.</summary>
    public IReadOnlyList<OutlinedChord> Chords { get; }

    /// <summary>The changes, those in which nothing moves as well.</summary>
    public IReadOnlyList<OutlinedChange> Changes => _changes;

    /// <summary>All beats with a chord.</summary>
    public double TotalBeats { get; }

    /// <summary>True when a finger lies across strings in some chord that is played.</summary>
    public bool HasBarre => Chords.Any(c => c.Beats > 0 && c.Demands.Any(d => d.Technique is Technique.ShortBarre or Technique.FullBarre));

    /// <summary>The fit at the song's tempo: share of beats expected clean and in time, 0 to 1.</summary>
    /// <param name="player">The student. A timed change counts as it was timed for the student the version was arranged for.</param>
    public double Fit(Player player) => Fit(player.Skills, player.ChangeSlowness);

    /// <summary>The same, when the student's slowness is known already.</summary>
    internal double Fit(Skills skills, double slowness)
    {
        Span<double> clean = stackalloc double[_demands.Length];
        FillClean(clean, skills);
        return At(Tempo, StrumLoad, clean, skills, slowness);
    }

    /// <summary>The highest whole tempo, in beats a minute, with a fit of <see cref="FitWeights.ComfortableFit"/>; null when no tempo reaches it.</summary>
    /// <param name="player">The student.</param>
    public double? ComfortableTempo(Player player)
    {
        var clean = new double[_demands.Length];
        FillClean(clean, player.Skills);
        bool IsComfortable(double tempo) => At(tempo, clean, player) >= FitWeights.Default.ComfortableFit;
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

    /// <summary>Chance that each chord sounds clean.</summary>
    internal double[] Clean(Skills skills)
    {
        var clean = new double[_demands.Length];
        FillClean(clean, skills);
        return clean;
    }

    /// <summary>The fit at a tempo; it falls as the tempo rises.</summary>
    internal double At(double tempo, ReadOnlySpan<double> clean, Player player) => At(tempo, Strum.LoadAt(tempo), clean, player.Skills, player.ChangeSlowness);

    /// <summary>Seconds a student needs for a change.</summary>
    internal static double Needed(in OutlinedChange change, double slowness) => change.IsTimed ? change.Seconds : change.Seconds * slowness;

    private void FillClean(Span<double> clean, Skills skills)
    {
        for (var i = 0; i < clean.Length; i++) clean[i] = FitModel.Clean(_demands[i], skills);
    }

    private double At(double tempo, double strumLoad, ReadOnlySpan<double> clean, Skills skills, double slowness)
    {
        if (TotalBeats <= 0) return 1;
        var good = 0.0;
        for (var i = 0; i < clean.Length; i++) good += _beats[i] * clean[i];
        var beat = 60 / tempo;
        foreach (ref readonly var change in _changes.AsSpan())
        {
            var needed = Needed(change, slowness);
            if (needed <= 0) continue;
            var available = beat * change.FreeBeats;
            var lateBeats = Math.Max(0, needed - available) / beat;
            var spoilt = Math.Min(Chords[change.To].SpellBeats, Math.Max(1, lateBeats));
            good -= change.Count * clean[change.To] * (1 - FitModel.InTime(needed, available)) * spoilt;
        }
        return Math.Clamp(good / TotalBeats, 0, 1) * FitModel.Strummed(strumLoad, skills);
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
            var (skills, slowness) = (players[p].Skills, players[p].ChangeSlowness);
            var row = fits[p] = new double[versions.Count];
            for (var v = 0; v < row.Length; v++) row[v] = versions[v].Fit(skills, slowness);
        });
        return fits;
    }
}
