using Tembri.Core.Ladders;

namespace Tembri.Core.Students;

/// <summary>What of a version the fit needs, without the song: small enough to keep for a whole library and quick to grade for many students.</summary>
/// <remarks>Gives the same fit as <see cref="VersionFit"/> for students without timed counts, except for rounding.</remarks>
public sealed class VersionOutline
{
    private readonly (Technique Technique, double Demand)[][] _demands;
    private readonly double[] _shares;
    private readonly (int To, double Seconds, double Available, double Count, double Ceiling)[] _changes;
    private readonly double _strumLoad;
    private readonly double _beatsASecond;
    private readonly double _totalBeats;

    /// <summary>Takes the outline of a rung.</summary>
    /// <param name="rung">A rung that could be arranged.</param>
    /// <param name="tempo">The song's tempo.</param>
    /// <exception cref="ArgumentException">The rung could not be arranged.</exception>
    public VersionOutline(Rung rung, double tempo)
    {
        if (rung.Fit is not { } fit) throw new ArgumentException("A rung that is blocked has no fit.", nameof(rung));
        var flow = rung.Flow;
        _totalBeats = flow.TotalBeats;
        _demands = [.. rung.Chords.Select(c => FitModel.Demands(c.Choice.Fingering).ToArray())];
        _shares = [.. flow.Beats.Select(b => b / Math.Max(1e-9, flow.TotalBeats))];
        _strumLoad = rung.StrumLoad;
        _beatsASecond = tempo / 60;
        var times = new int[flow.Chords.Count];
        foreach (var spell in flow.Sequence) times[spell.Chord]++;
        _changes = [.. fit.Changes.Where(c => c.Change.Seconds > 0).Select(c => (c.To, c.Change.Seconds, c.AvailableSeconds, (double)c.Count, flow.Beats[c.To] / times[c.To]))];
    }

    /// <summary>The fit for a student at the song's tempo, 0 to 1.</summary>
    public double For(Skills skills, double changeSlowness)
    {
        if (_totalBeats <= 0) return 1;
        Span<double> clean = stackalloc double[_demands.Length];
        var good = 0.0;
        for (var i = 0; i < clean.Length; i++)
        {
            clean[i] = FitModel.Clean(_demands[i], skills);
            good += _shares[i] * clean[i];
        }
        foreach (var (to, seconds, available, count, ceiling) in _changes)
        {
            var needed = seconds * changeSlowness;
            var spoilt = Math.Min(ceiling, Math.Max(1, Math.Max(0, needed - available) * _beatsASecond));
            good -= count * clean[to] * (1 - FitModel.InTime(needed, available)) * spoilt / _totalBeats;
        }
        return Math.Clamp(good, 0, 1) * FitModel.Strummed(_strumLoad, skills);
    }

    /// <summary>Grades many versions for many students, on all cores.</summary>
    /// <param name="players">Students; timed counts are not regarded.</param>
    /// <param name="versions">Versions.</param>
    /// <returns>The fit by student and version, 0 to 1.</returns>
    public static double[][] Grade(IReadOnlyList<Player> players, IReadOnlyList<VersionOutline> versions)
    {
        var fits = new double[players.Count][];
        Parallel.For(0, players.Count, p =>
        {
            var (skills, slowness) = (players[p].Skills, players[p].ChangeSlowness);
            var row = fits[p] = new double[versions.Count];
            for (var v = 0; v < row.Length; v++) row[v] = versions[v].For(skills, slowness);
        });
        return fits;
    }
}
