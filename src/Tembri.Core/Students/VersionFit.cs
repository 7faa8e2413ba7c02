using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Core.Students;

/// <summary>A change of a version for one student.</summary>
/// <param name="From">Index of the chord left.</param>
/// <param name="To">Index of the chord reached.</param>
/// <param name="Count">Times in the form.</param>
/// <param name="Change">What the fingers do.</param>
/// <param name="NeededSeconds">Time this student needs, s.</param>
/// <param name="AvailableSeconds">Time there is at the song's tempo, s.</param>
/// <param name="InTime">Chance to be in time.</param>
public sealed record FittedChange(int From, int To, int Count, Change Change, double NeededSeconds, double AvailableSeconds, double InTime);

/// <summary>How one version fits one student.</summary>
public sealed class VersionFit
{
    private const double SlowestTempo = 30;
    private const double FastestTempo = 260;
    private readonly ChordFlow _flow;
    private readonly Func<ChordStep, double, double> _available;
    private readonly double[] _clean;
    private readonly double[] _needed;
    private readonly double[] _slotBeats;
    private readonly StrumPattern _strum;
    private readonly Skills _skills;

    /// <summary>Computes the fit.</summary>
    /// <param name="flow">The song.</param>
    /// <param name="fingerings">One fingered shape a chord.</param>
    /// <param name="changes">The change model at the version's capo.</param>
    /// <param name="player">The student.</param>
    /// <param name="tempo">Beats a minute.</param>
    /// <param name="strum">The version's strum.</param>
    /// <param name="available">Seconds for a step at a tempo.</param>
    public VersionFit(
        ChordFlow flow, IReadOnlyList<Fingering> fingerings, ChangeModel changes, Player player, double tempo, StrumPattern strum, Func<ChordStep, double, double> available)
    {
        (_flow, _available, _strum, _skills) = (flow, available, strum, player.Skills);
        Strummed = FitModel.Strummed(strum.LoadAt(tempo), player.Skills);
        _clean = [.. fingerings.Select(f => FitModel.Clean(f, player.Skills))];
        var described = flow.Steps.Select(s => changes.Between(fingerings[s.From], fingerings[s.To])).ToList();
        _needed = [.. described.Select(c => player.Measured(c.From, c.To) ?? c.Seconds * player.ChangeSlowness)];
        var times = new int[fingerings.Count];
        foreach (var spell in flow.Sequence) times[spell.Chord]++;
        _slotBeats = [.. times.Select((n, i) => n == 0 ? 0 : flow.Beats[i] / n)];
        Value = At(tempo);
        Verdict = FitModel.VerdictOf(Value);
        ComfortableTempo = FindComfortable();
        Changes = [.. flow.Steps.Select((s, i) =>
        {
            var there = available(s, tempo);
            return new FittedChange(s.From, s.To, s.Count, described[i], _needed[i], there, FitModel.InTime(_needed[i], there));
        })];
    }

    /// <summary>Share of beats expected clean and in time at the song's tempo, 0 to 1.</summary>
    public double Value { get; }

    /// <summary>The verdict.</summary>
    public Verdict Verdict { get; }

    /// <summary>The highest tempo, in beats a minute, with a fit of 90 %; null when no tempo reaches it.</summary>
    public double? ComfortableTempo { get; }

    /// <summary>The changes.</summary>
    public IReadOnlyList<FittedChange> Changes { get; }

    /// <summary>Chance that each chord sounds clean.</summary>
    public IReadOnlyList<double> Clean => _clean;

    /// <summary>Chance that the strum goes on clean at the song's tempo.</summary>
    public double Strummed { get; }

    /// <summary>The fit at a tempo; it falls as the tempo rises.</summary>
    /// <param name="tempo">Beats a minute, above 0.</param>
    public double At(double tempo)
    {
        if (_flow.TotalBeats <= 0) return 1;
        var good = 0.0;
        for (var i = 0; i < _clean.Length; i++) good += _flow.Beats[i] * _clean[i];
        for (var s = 0; s < _needed.Length; s++)
        {
            var step = _flow.Steps[s];
            var there = _available(step, tempo);
            var lateBeats = Math.Max(0, _needed[s] - there) * tempo / 60;
            // A late change spoils the first beat, a very late one more, at most the whole chord.
            var spoilt = Math.Min(_slotBeats[step.To], Math.Max(1, lateBeats));
            good -= step.Count * _clean[step.To] * (1 - FitModel.InTime(_needed[s], there)) * spoilt;
        }
        return Math.Clamp(good / _flow.TotalBeats, 0, 1) * FitModel.Strummed(_strum.LoadAt(tempo), _skills);
    }

    private double? FindComfortable()
    {
        if (At(SlowestTempo) < FitModel.ComfortableFit) return null;
        double low = SlowestTempo, high = FastestTempo;
        if (At(high) >= FitModel.ComfortableFit) return high;
        for (var i = 0; i < 24; i++)
        {
            var middle = (low + high) / 2;
            if (At(middle) >= FitModel.ComfortableFit) low = middle;
            else high = middle;
        }
        return Math.Floor(low);
    }
}
