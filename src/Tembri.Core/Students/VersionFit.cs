namespace Tembri.Core.Students;

/// <summary>A change of a version for one student.</summary>
/// <param name="From">Index of the chord left.</param>
/// <param name="To">Index of the chord reached.</param>
/// <param name="Count">Times in the form.</param>
/// <param name="NeededSeconds">Time this student needs, s.</param>
/// <param name="AvailableSeconds">Time there is at the song's tempo, s.</param>
/// <param name="InTime">Chance to be in time.</param>
public sealed record FittedChange(int From, int To, int Count, double NeededSeconds, double AvailableSeconds, double InTime);

/// <summary>How one version fits one student, taken apart. The numbers are those of the outline; here is what they are made
/// of.</summary>
public sealed class VersionFit
{
    private readonly VersionOutline _outline;
    private readonly PlayerOdds _player;
    private readonly double[] _clean;

    /// <summary>Grades a version and explains the grade.</summary>
    /// <param name="outline">The version.</param>
    /// <param name="player">The student.</param>
    public VersionFit(VersionOutline outline, Player player)
    {
        (_outline, _player) = (outline, new PlayerOdds(player));
        _clean = outline.Clean(_player);
        (Value, Verdict) = outline.Grade(_player);
        ComfortableTempo = outline.ComfortableTempo(player);
        Strummed = outline.Strummed(_player);
        Changes = [.. outline.Changes.Select((c, i) =>
        {
            var (needed, available) = (outline.Needed(i, _player), 60 / outline.Tempo * c.FreeBeats);
            return new FittedChange(c.From, c.To, c.Count, needed, available, FitModel.InTime(needed, available));
        })];
        Reason = FitReason.Of(this, outline, player, outline.WeakestLink(_clean, _player));
    }

    /// <summary>Share of beats expected clean and in time at the song's tempo, 0 to 1.</summary>
    public double Value { get; }

    /// <summary>The verdict.</summary>
    public Verdict Verdict { get; }

    /// <summary>The highest tempo, in beats a minute, at which nine of ten changes are in time; null when there is
    /// none.</summary>
    public double? ComfortableTempo { get; }

    /// <summary>The changes, numbered as those of the rung.</summary>
    public IReadOnlyList<FittedChange> Changes { get; }

    /// <summary>Chance that each chord sounds clean.</summary>
    public IReadOnlyList<double> Clean => _clean;

    /// <summary>Chance that the strum goes on clean at the song's tempo.</summary>
    public double Strummed { get; }

    /// <summary>The main thing that stands in the way.</summary>
    public FitReason Reason { get; }

    /// <summary>The fit at a tempo; it falls as the tempo rises.</summary>
    /// <param name="tempo">Beats a minute, above 0.</param>
    public double At(double tempo) => _outline.At(tempo, _clean, _player);
}
